"""What a buyer asked for is settled, by their seller's word."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.events.writing import write
from cravik.orders.happened import WishSettled, about
from cravik.orders.models import Order, Wish
from cravik.people.actors import Actor


@transaction.atomic
def settle_wish(order: Order, wish_id: int, now: datetime, *, by: Actor) -> bool:
    """Settle one of the order's wishes; whether it was open."""
    is_new = Wish.objects.filter(order=order, id=wish_id, settled_at=None).update(settled_at=now)
    if is_new:
        write(WishSettled(), about(order), now, by)
    return bool(is_new)
