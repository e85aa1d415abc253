"""What the seller does of an order: it is sent in parcels, done, or to do after all; and what they note of it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from datetime import datetime

from django.db import transaction

from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.orders.happened import OrderNoted, OrderSent, StageChanged, about
from cravik.orders.models import Order, Parcel, Stage
from cravik.orders.parcel_letter import letter_about_parcel
from cravik.people.actors import Actor
from cravik.upkeep.queue import enqueue_once

#: So long is a note at most, in characters.
MAX_NOTE_LENGTH = 1000


class SentMeanwhile(Exception):
    """A parcel was noted, or taken back, since whoever says it looked."""


def send_order(order: Order, parcel: Parcel, now: datetime, *, by: Actor, tell: bool, seen: int) -> bool:
    """Note that a parcel of the order was sent, once a key, and ``tell`` its buyer by letter. Whether that is new.

    ``seen`` is how many parcels there were when it was decided. Raises ``SentMeanwhile``.
    """

    def is_as_it_was(fresh: Order) -> bool:
        if fresh.parcels.count() != seen:
            raise SentMeanwhile
        return True

    return _send(order, parcel, now, by, tell, is_as_it_was)


def send_orders(orders: Iterable[Order], key: str, now: datetime, *, by: Actor, tell: bool) -> int:
    """Note that each of those that are to do was sent whole, and return how many.

    Each is a transaction of its own: what was cut off is gone on with by the same ``key``.
    """

    def is_to_do(fresh: Order) -> bool:
        return fresh.stage == Stage.TO_DO

    to_do = (order for order in orders if is_to_do(order))
    return sum(_send(order, Parcel(key=f"{key}-{order.pk}"), now, by, tell, is_to_do) for order in to_do)


def _send(
    order: Order, parcel: Parcel, now: datetime, by: Actor, tell: bool, may_be_sent: Callable[[Order], bool]
) -> bool:
    parcel.order, parcel.sent_at = order, now
    letter = letter_about_parcel(order, parcel) if tell else None  # composed before the write lock is held
    with transaction.atomic():
        fresh = Order.objects.select_for_update().get(id=order.pk)
        if Parcel.objects.filter(key=parcel.key).exists() or not may_be_sent(fresh):
            return False
        parcel.save()
        Order.objects.filter(id=order.pk).update(stage=Stage.SENT)
        if letter:
            queue_letters(order.business, [letter], now)
            enqueue_once(deliver_waiting_letters)
        write(OrderSent(parcel.carrier, parcel.tracking, bool(letter)), about(order), now, by)
    return True


@transaction.atomic
def change_stage(order: Order, stage: Stage, now: datetime, *, by: Actor) -> bool:
    """Say how far the order is; to do again takes its parcels back. Whether it was another."""
    former = Order.objects.select_for_update().get(id=order.pk).stage
    if former == stage:
        return False
    Order.objects.filter(id=order.pk).update(stage=stage)
    if stage == Stage.TO_DO:
        Parcel.objects.filter(order=order).delete()
    write(StageChanged(stage, former), about(order), now, by)
    return True


@transaction.atomic
def add_note(order: Order, note: str, now: datetime, *, by: Actor) -> None:
    """Write a note into the order's history, for the seller alone."""
    write(OrderNoted(note), about(order), now, by)
