"""What a checkout owes, and when: a list of dues for every plan, of which the first is paid now."""

from __future__ import annotations

from datetime import date, datetime

from django.db.models import DateTimeField

from cravik.checkout.models import Checkout
from cravik.core.pricing.quote import Quote
from cravik.payments.models import Due
from cravik.upkeep.prepared import Param, PreparedUpdate, insert


def write_dues(checkout: Checkout, quoted: Quote, on: date, *, is_new: bool) -> Due:
    """Make the checkout's dues those of the quote, and return the first. In the transaction of the press.

    Where the checkout is not new, its dues are those of an earlier press that came to nothing, and are written again.
    """
    sums = [(on, quoted.due_now), *quoted.schedule]
    there = {} if is_new else {due.position: due for due in checkout.dues.all()}
    for position, (day, amount) in enumerate(sums):
        due = there.get(position) or Due(checkout=checkout, position=position)
        due.on, due.amount_minor, due.currency = day, amount.minor, amount.currency
        if due.pk:
            due.save()
        else:
            insert(due)
        there[position] = due
    if len(there) > len(sums):
        checkout.dues.filter(position__gte=len(sums)).delete()
    return there[0]


_MARK_PAID = PreparedUpdate(
    lambda: Due.objects.filter(id=Param("due")), state=Due.State.PAID, paid_at=Param("now", DateTimeField())
)


def mark_paid(due: Due, now: datetime) -> None:
    _MARK_PAID.run(due=due.pk, now=now)
    due.state, due.paid_at = Due.State.PAID, now
