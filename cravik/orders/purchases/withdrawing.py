"""A buyer withdraws from the contract: it is kept with its time, acknowledged by letter, and told the seller."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from django.db import transaction
from django.utils.formats import date_format

from cravik.core.link.withdrawal import DAYS
from cravik.events.writing import write
from cravik.mailroom.services import OutgoingLetter, queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.orders.acts.plan_ended import end_withdrawn
from cravik.orders.happened import Withdrawn, about
from cravik.orders.models import PARTS, Order, Wish
from cravik.orders.purchases.rights import rights_of
from cravik.orders.to_buyer import letter_to_buyer
from cravik.orders.to_members import letters_to_members
from cravik.people.actors import BUYER
from cravik.setup.messages.after_paying import WITHDRAWAL_RECEIVED, WITHDRAWN
from cravik.setup.messages.filling import Values, WebAddress
from cravik.setup.messages.wording import compose, words_of
from cravik.ui.addresses import absolute
from cravik.upkeep.queue import enqueue_once


@transaction.atomic
def withdraw(order: Order, keys: Collection[str], now: datetime) -> Wish | None:
    """Take the buyer's statement of the lines with those keys from which they can withdraw; None where there is none of
    them, or none any more. Each line is withdrawn from once."""
    Order.objects.select_for_update().get(id=order.pk)
    related = ("business", "checkout", "link")
    order = Order.objects.select_related(*related).prefetch_related(*PARTS, "parcels", "wishes").get(id=order.pk)
    lines = [
        {"key": each.key, "name": each.name} for each in rights_of(order, now) if each.is_open and each.key in keys
    ]
    if not lines:
        return None
    wish = Wish.objects.create(order=order, kind=Wish.Kind.WITHDRAWAL, at=now, lines=lines)
    if {line["key"] for line in lines} | _withdrawn_before(order) >= _bought(order):
        end_withdrawn(order, now)
    write(Withdrawn([line["name"] for line in lines]), about(order), now, BUYER)
    queue_letters(order.business, _letters(order, wish), now)
    enqueue_once(deliver_waiting_letters)
    return wish


def _bought(order: Order) -> set[str]:
    return {line["key"] for line in order.checkout.line.quote_document["lines"]}


def _withdrawn_before(order: Order) -> set[str]:
    return {line["key"] for wish in order.wishes.all() for line in wish.lines}


def pay_back_by(wish: Wish) -> datetime:
    """When what was paid has to be on its way back."""
    return wish.at + timedelta(days=DAYS)


def _letters(order: Order, wish: Wish) -> list[OutgoingLetter]:
    zone = ZoneInfo(order.business.time_zone)
    values: Values = {
        "buyer": order.buyer_name,
        "business": order.business.name,
        "things": wish.names,
        "said_at": f"{date_format(wish.at.astimezone(zone), 'j M Y, H:i')} ({order.business.time_zone})",
        "pay_back_by": date_format(pay_back_by(wish).astimezone(zone), "j M Y"),
        "order": str(order).capitalize(),
    }
    occasion = f"withdrawal-{wish.pk}"
    with_reference: Values = {**values, "reference": order.checkout.reference}
    to_buyer = letter_to_buyer(order, WITHDRAWAL_RECEIVED, occasion, with_reference)
    for_members: Values = {
        **values,
        "buyer_email": order.buyer_email,
        "order_address": WebAddress(absolute(order.path)),
    }
    told = compose(WITHDRAWN, words_of(order.business, WITHDRAWN.kind), for_members)
    to_members = letters_to_members(
        order.business, WITHDRAWN, occasion, told, reply_to=order.buyer_email, order_id=order.pk
    )
    return [to_buyer, *to_members]
