"""A buyer asks for their money back: the seller gets it as a letter, and it stands in the order's history."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from django.db import transaction

from cravik.core.text.money_text import format_money_clearly
from cravik.events.models import Event
from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.orders.happened import RefundAsked, about
from cravik.orders.models import Order
from cravik.orders.to_members import letters_to_members
from cravik.people.actors import BUYER
from cravik.setup.messages.after_paying import REFUND_ASKED
from cravik.setup.messages.filling import Values, WebAddress
from cravik.setup.messages.wording import compose, words_of
from cravik.ui.addresses import absolute
from cravik.upkeep.queue import enqueue_once


def asked_for(order_ids: Iterable[int]) -> set[int]:
    """Those of the orders for which a refund was asked for."""
    asked = Event.objects.filter(order_id__in=list(order_ids), kind="order.refund_asked")
    return {order_id for order_id in asked.values_list("order_id", flat=True) if order_id is not None}


@transaction.atomic
def ask_for_refund(order: Order, wish: str, now: datetime) -> bool:
    """Tell every member of the business, once for an order, and whether this was the first time."""
    Order.objects.select_for_update().get(id=order.pk)
    if asked_for([order.pk]):
        return False
    write(RefundAsked(wish), about(order), now, BUYER)
    values: Values = {
        "buyer": order.buyer_name,
        "buyer_email": order.buyer_email,
        "business": order.business.name,
        "thing": order.title,
        "amount": format_money_clearly(order.paid),
        "wish": wish,
        "order": str(order).capitalize(),
        "order_address": WebAddress(absolute(order.path)),
    }
    composed = compose(REFUND_ASKED, words_of(order.business, REFUND_ASKED.kind), values)
    letters = letters_to_members(
        order.business,
        REFUND_ASKED,
        f"order-{order.pk}",
        composed,
        reply_to=order.buyer_email,
        order_id=order.pk,
    )
    queue_letters(order.business, letters, now)
    enqueue_once(deliver_waiting_letters)
    return True
