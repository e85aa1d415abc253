"""An order is made, once a checkout: by its first approval, a kept card, nothing being due, or a promise to pay."""

from __future__ import annotations

from datetime import datetime

from django.db.models import F, QuerySet

from cravik.buyers.services import buyer_who_orders
from cravik.checkout.models import Checkout, CheckoutLine
from cravik.events.writing import write
from cravik.orders.happened import OrderMade, about
from cravik.orders.models import Order, OrderBook, Stage
from cravik.payments.agreements import start_agreement
from cravik.people.actors import BUYER
from cravik.upkeep.prepared import Param, PreparedUpdate, insert


def make_order(checkout: Checkout, now: datetime, way: str, *, is_paid: bool) -> Order:
    """The order of a checkout that has none yet, by that way to pay. In the transaction under way.

    One that is not paid counts neither as an order nor as money until a due of it is; see ``due_paid``.
    """
    line = checkout.line
    order = new_order(checkout, line, _next_number(checkout), now, way, is_paid=is_paid)
    if not order.rehearsal:
        key, email, name = checkout.buyer_key, checkout.buyer_email, checkout.buyer_name
        order.buyer_id = buyer_who_orders(checkout.business_id, key, email, name, now)
    insert(order)
    if line.is_paid_over_time:
        start_agreement(checkout.pk)
    write(OrderMade(order.number), about(order), now, BUYER)
    return order


def new_order(
    checkout: Checkout, line: CheckoutLine, number: int, made_at: datetime, way: str, *, is_paid: bool = True
) -> Order:
    """The order that a checkout becomes, not saved yet."""
    return Order(
        business_id=checkout.business_id,
        checkout=checkout,
        link_id=line.link_id,
        version_id=line.version_id,
        spot_id=line.spot_id,
        number=number,
        rehearsal=checkout.rehearsal,
        buyer_name=checkout.buyer_name,
        buyer_email=checkout.buyer_email,
        title=line.title,
        options=line.options,
        way=way,
        code_id=line.code_id,
        currency=checkout.currency,
        made_at=made_at,
        paid_at=made_at if is_paid else None,
        letters_due=is_paid,
        country=checkout.where.get("country") or "",
        stage=Stage.TO_DO if checkout.where.get("street") else Stage.DONE,
    )


def _next_number(checkout: Checkout) -> int:
    """The next number of the business's book, without gaps: counting up locks the row until the order is made."""
    count, business = _COUNT[checkout.rehearsal], checkout.business_id
    counted = count.changed(business=business)
    if counted is None:
        OrderBook.objects.get_or_create(business_id=business)
        counted = count.changed(business=business)
    assert counted is not None
    return int(counted[0])


def _book() -> QuerySet[OrderBook]:
    return OrderBook.objects.filter(business_id=Param("business"))


#: Of rehearsals, and of orders.
_COUNT = {
    True: PreparedUpdate(_book, back=["last_rehearsal"], last_rehearsal=F("last_rehearsal") + 1),
    False: PreparedUpdate(_book, back=["last_number"], last_number=F("last_number") + 1),
}
