"""Orders as files to keep: CSV (RFC 4180), a row an order, and JSON, an object an order. Times are the seller's.

What buyers answered stands under the label that they were shown: in CSV a column a label, in JSON a list in the order
of the questions.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from django.http import StreamingHttpResponse

from cravik.core.english import listed
from cravik.orders.models import Order, OrderQuerySet
from cravik.ui.spreadsheets import as_text, csv_response

_AT_ONCE = 500
#: So many labels get a column of their own.
MAX_COLUMNS = 200
_HEAD = ["number", "paid_at", "link", "title", "buyer_name", "buyer_email", "currency", "total", "reference"]
_HEAD += ["bought", "quantity", "options", "discount", "delivery", "tax", "fee", "net"]
_HEAD += ["country", "send_to", "tax_number", "tax_number_of", "paid", "refunded", "spot"]
_HEAD += ["ordered_at", "state", "sent_at", "carrier", "tracking"]
_NEVER_A_FORMULA = {"link", "title", "buyer_name", "buyer_email", "bought", "options", "send_to", "tax_number", "spot"}
_NEVER_A_FORMULA |= {"carrier", "tracking"}


def answer_words(answer: Any) -> str:
    """An answer as one would say it."""
    if isinstance(answer, bool):
        return "yes" if answer else "no"
    return listed(answer, "and") if isinstance(answer, list | tuple) else str(answer)


def as_csv(orders: OrderQuerySet, zone: ZoneInfo) -> StreamingHttpResponse:
    """The orders as CSV, streamed."""
    labels = _labels(orders)

    def rows() -> Iterator[list[object]]:
        for order in _whole(orders):
            fields, answers = (
                _fields(order, zone),
                {each["label"]: answer_words(each["answer"]) for each in order.checkout.answers},
            )
            yield [
                *(as_text(str(fields[name])) if name in _NEVER_A_FORMULA else fields[name] for name in _HEAD),
                *(as_text(answers.get(label, "")) for label in labels),
            ]

    return csv_response("orders.csv", [*_HEAD, *map(as_text, labels)], rows())


def as_json(orders: OrderQuerySet, zone: ZoneInfo) -> StreamingHttpResponse:
    """The orders as a JSON list, streamed."""

    def file() -> Iterator[str]:
        mark = "["
        for order in _whole(orders):
            lines = order.checkout.line.quote_document["lines"]
            fields = _fields(order, zone) | {"lines": lines, "answers": order.checkout.answers}
            yield f"{mark}\n{json.dumps(fields, ensure_ascii=False)}"
            mark = ","
        yield "[]\n" if mark == "[" else "\n]\n"

    attachment = {"Content-Disposition": 'attachment; filename="orders.json"'}
    return StreamingHttpResponse(file(), content_type="application/json", headers=attachment)


def _fields(order: Order, zone: ZoneInfo) -> dict[str, Any]:
    checkout, quoted, parcels = order.checkout, order.checkout.line.quote_document, order.parcels.all()
    return {
        "number": order.number,
        "paid_at": _instant(order.paid_at, zone),
        "link": order.link.name,
        "title": order.title,
        "buyer_name": order.buyer_name,
        "buyer_email": order.buyer_email,
        "currency": order.currency,
        "total": checkout.total.major,
        "reference": checkout.reference,
        "bought": "; ".join(f"{line['quantity']} × {line['name']}" for line in quoted["lines"]),
        "quantity": sum(line["quantity"] for line in quoted["lines"]),
        "options": "; ".join(options for _, options in checkout.line.picked),
        **{name: quoted[name] for name in ("discount", "delivery", "tax", "fee", "net")},
        "country": checkout.where.get("country", ""),
        "send_to": ", ".join(filter(None, checkout.address_lines)),
        "tax_number": checkout.where.get("tax_number", ""),
        "tax_number_of": checkout.where.get("tax_number_of", ""),
        "paid": order.paid.major,
        "refunded": (-order.returned).major,
        "spot": order.spot.name,
        "ordered_at": _instant(order.made_at, zone),
        "state": order.state,
        "sent_at": "; ".join(_instant(parcel.sent_at, zone) for parcel in parcels),
        "carrier": "; ".join(parcel.carrier for parcel in parcels if parcel.carrier),
        "tracking": "; ".join(parcel.tracking for parcel in parcels if parcel.tracking),
    }


def _instant(at: datetime | None, zone: ZoneInfo) -> str:
    return at.astimezone(zone).isoformat(timespec="seconds") if at else ""


def _whole(orders: OrderQuerySet) -> Iterator[Order]:
    whole = orders.with_returned().select_related("link", "checkout", "spot")
    for order in whole.prefetch_related("checkout__lines", "parcels").iterator(chunk_size=_AT_ONCE):
        yield order
        # What was read leads back to what it was read of: let go, so that it takes no memory until the next collection.
        for row in (order, order.checkout):
            row.__dict__.clear()


def _labels(orders: OrderQuerySet) -> list[str]:
    """Every label that an answer has, in the order of the questions."""
    labels: dict[str, None] = {}
    for answers in orders.values_list("checkout__answers", flat=True).iterator(chunk_size=_AT_ONCE):
        labels |= dict.fromkeys(each["label"] for each in answers)
    return list(labels)[:MAX_COLUMNS]
