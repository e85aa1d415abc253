"""What a buyer asked for is settled, by a refund or by their seller's word."""

from __future__ import annotations

from collections import Counter
from datetime import datetime

from django.db import transaction

from cravik.events.writing import write
from cravik.orders.happened import WishSettled, about
from cravik.orders.models import Order, Wish
from cravik.payments.models import Refund
from cravik.people.actors import Actor


def settle_by_refund(order: Order, left_minor: int, now: datetime) -> None:
    """Settle what a refund answers that was recorded and leaves so much of the order: that money was asked for; and a
    withdrawal whose lines' pieces all went back, or of whose order nothing is left. In the transaction under way."""
    gone: Counter[str] = Counter()
    for done in Refund.objects.filter(charge__checkout=order.checkout_id, state=Refund.State.DONE):
        gone.update(done.pieces)
    bought = {line["key"]: line["quantity"] for line in order.checkout.line.quote_document["lines"]}
    for wish in Wish.objects.filter(order=order, settled_at=None):
        went_back = all(gone[line["key"]] >= bought[line["key"]] for line in wish.lines)
        if wish.kind == Wish.Kind.REFUND or not left_minor or went_back:
            Wish.objects.filter(id=wish.pk).update(settled_at=now)


@transaction.atomic
def settle_wish(order: Order, wish_id: int, now: datetime, *, by: Actor) -> bool:
    """Settle one of the order's wishes; whether it was open."""
    is_new = Wish.objects.filter(order=order, id=wish_id, settled_at=None).update(settled_at=now)
    if is_new:
        write(WishSettled(), about(order), now, by)
    return bool(is_new)
