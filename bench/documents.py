"""Times documents: making them, as PDF and structured, and the accountant's journal; on a folder with the sample."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from zoneinfo import ZoneInfo

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
django.setup()

from django.utils import timezone  # noqa: E402

from cravik.orders.invoicing.issuing import issue_for_order  # noqa: E402
from cravik.orders.invoicing.pdf import pdf_of, xml_of  # noqa: E402
from cravik.orders.journal import as_journal  # noqa: E402
from cravik.orders.models import IssuedDocument, Order  # noqa: E402

_ROUNDS, _ORDERS = 20, 200


def main() -> None:
    for kind in ("receipt", "invoice", "correction"):
        document = IssuedDocument.objects.filter(kind=kind).latest("id")
        pdf_of(document)  # which reads the faces
        size = len(pdf_of(document)) / 1000
        print(f"{kind} as PDF: {_median(lambda: pdf_of(document)):.1f} ms (goal 60), {size:.0f} kB (goal 100)")  # noqa: B023
    invoice = IssuedDocument.objects.filter(kind="invoice").latest("id")
    print(f"an invoice in its structured form: {_median(lambda: xml_of(invoice)):.1f} ms")
    without = Order.objects.filter(documents__isnull=True, taken_minor__gt=0).order_by("-id")[:_ORDERS]
    orders = list(without.select_related("business", "checkout"))
    began = time.perf_counter()
    for order in orders:
        issue_for_order(order, timezone.now())
    each = (time.perf_counter() - began) / len(orders) * 1000
    print(f"making and numbering the receipt of an order: {each:.1f} ms")
    began = time.perf_counter()
    rows = sum(1 for _ in as_journal(Order.objects.order_by("id"), ZoneInfo("UTC")))
    print(f"the journal of {Order.objects.count():,} orders, {rows:,} rows: {time.perf_counter() - began:.1f} s")


def _median(do: Callable[[], object]) -> float:
    taken = []
    for _ in range(_ROUNDS):
        began = time.perf_counter()
        do()
        taken.append((time.perf_counter() - began) * 1000)
    return sorted(taken)[_ROUNDS // 2]


if __name__ == "__main__":
    main()
