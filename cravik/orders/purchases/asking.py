"""A buyer asks for their money back: the seller gets it as a letter, and it stands in the order's history."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.core.text.money_text import format_money_clearly
from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.orders.happened import RefundAsked, about
from cravik.orders.models import Order, Wish
from cravik.orders.to_members import letters_to_members
from cravik.people.actors import BUYER
from cravik.setup.messages.after_paying import REFUND_ASKED
from cravik.setup.messages.filling import Values, WebAddress
from cravik.setup.messages.wording import compose, words_of
from cravik.ui.addresses import absolute
from cravik.upkeep.queue import enqueue_once


@transaction.atomic
def ask_for_refund(order: Order, wish: str, now: datetime) -> bool:
    """Tell every member of the business, once for an order, and whether this was the first time."""
    Order.objects.select_for_update().get(id=order.pk)
    if Wish.objects.filter(order=order, kind=Wish.Kind.REFUND).exists():
        return False
    Wish.objects.create(order=order, kind=Wish.Kind.REFUND, at=now, words=wish)
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
