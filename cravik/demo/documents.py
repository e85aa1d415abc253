"""Documents of the sample: those of the newest orders, numbered as if the others had theirs too."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from cravik.orders.invoicing.asking import ask_for_invoice
from cravik.orders.models import DocumentDesk, DocumentKind, NumberSeries, Order, OrderSettings
from cravik.payments.models import Movement
from cravik.people.models import Business

_MADE_OUT_TO = {
    "company": "Saltmarsh Sailing School Ltd",
    "name": "Office",
    "street": "12 Harbour Row",
    "postcode": "F91 X2A4",
    "town": "Marramport",
    "country": "IE",
    "tax_number": "IE6388047V",
}


def begin_documents(business: Business, newest: Sequence[Order]) -> None:
    """What was decided of them, and the number with which the newest orders' receipts begin."""
    OrderSettings.objects.create(business=business, fields=[["Register", "Marramport 4711"]])
    year = newest[0].made_at.year
    before = Order.objects.filter(business=business, made_at__year=year, id__lt=newest[0].pk, taken_minor__gt=0).count()
    NumberSeries.objects.create(
        business=business, kind=DocumentKind.RECEIPT, prefix="R-", year=year, last_number=before
    )


def end_documents(orders: Sequence[Order], now: datetime) -> None:
    """From now on every movement has its documents; and somebody asked for an invoice."""
    last = Movement.objects.order_by("-id").values_list("id", flat=True)[0]
    DocumentDesk.objects.update_or_create(id=1, defaults={"last_movement_id": last})
    sent = next(order for order in reversed(orders) if order.country == "IE" and order.taken_minor)
    ask_for_invoice(Order.objects.get(id=sent.pk), _MADE_OUT_TO, now)
