"""Another card is kept for what is paid over time: what the one before could not pay is asked of it at once."""

from __future__ import annotations

from datetime import datetime

from cravik.events.writing import write
from cravik.orders.clock import day_of
from cravik.orders.happened import about
from cravik.orders.happened_over_time import CardChanged
from cravik.orders.models import Order
from cravik.payments.models import Due, KeptCard
from cravik.people.actors import Actor


def note_new_card(order: Order, kept: KeptCard, now: datetime, *, by: Actor) -> None:
    """In the transaction under way, in which it was kept."""
    write(CardChanged(kept.ending), about(order), now, by)
    failed = Due.objects.filter(checkout=order.checkout_id, state=Due.State.FAILED)
    failed.update(collect_on=day_of(order, now))
