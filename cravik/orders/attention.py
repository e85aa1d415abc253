"""What of all orders waits for the seller: what is to do, unpaid, or stuck."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from django.urls import reverse

from cravik.core.english import counted
from cravik.orders.finding import STATES
from cravik.orders.models import MAX_LETTER_TRIES, Order, Wish
from cravik.orders.unpaid import unpaid_checkouts
from cravik.payments.models import Refund
from cravik.people.models import Business

_MAX_COUNTED = 500
#: Of all businesses, since there are few; asked apart, so that each is found by its own index, and anew each time.
_OPEN_WISHES = Wish.objects.filter(settled_at=None).order_by().values_list("order", flat=True).distinct()
_UNWRITTEN = Order.objects.filter(letters_due=True, letters_tries__gte=MAX_LETTER_TRIES).values_list("id", flat=True)


@dataclass(frozen=True)
class Matter:
    """What waits, in words, and where it is found. What is to do is not ``urgent``: it is a day's work."""

    words: str
    path: str
    urgent: bool = True


def attention_of(business: Business, now: datetime) -> Iterator[Matter]:
    """Nothing where all is done."""
    orders = Order.objects.of(business).filter(rehearsal=False)
    if to_do := orders.filter(STATES["to-do"][0]).count():
        yield Matter(f"{to_do:,} to do", f"{reverse('orders:orders')}?state=to-do", urgent=False)
        yield Matter("What is to be made", reverse("orders:to_make"), urgent=False)
    if unpaid := orders.filter(STATES["unpaid"][0]).count():
        yield Matter(f"{unpaid:,} unpaid", f"{reverse('orders:orders')}?state=unpaid")
    if waiting := orders.filter(id__in=list(_OPEN_WISHES.all())).count():
        words = f"{counted(waiting, 'buyer wants', 'buyers want')} money back"
        yield Matter(words, f"{reverse('orders:orders')}?wish=open")
    if not_paid := unpaid_checkouts(business, now).count():
        yield Matter(f"{not_paid:,} tried to pay and didn't", reverse("orders:not_paid"), urgent=False)
    unwritten = orders.filter(id__in=list(_UNWRITTEN.all())).order_by("id")
    if first := unwritten.first():
        yield Matter(f"letters of {counted(unwritten.count(), 'order', 'orders')} could not be written", first.path)
    counted_ones = {"charge__checkout__business": business, "charge__checkout__rehearsal": False}
    pending = Refund.objects.filter(state=Refund.State.PENDING, **counted_ones)
    checkouts = list(pending.values_list("charge__checkout", flat=True)[:_MAX_COUNTED])
    if checkouts and (stuck := orders.filter(checkout__in=checkouts).first()):
        yield Matter(f"{counted(len(checkouts), 'refund waits', 'refunds wait')} for the processor", stuck.path)
