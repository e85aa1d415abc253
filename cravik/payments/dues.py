"""What a checkout owes, and when: a list of dues for every plan, of which the first is paid now."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date, datetime

from django.db.models import CharField, DateTimeField, Exists, OuterRef

from cravik.checkout.models import Checkout
from cravik.core.pricing.quote import Quote
from cravik.payments.models import Allocation, Due
from cravik.upkeep.prepared import Param, PreparedUpdate, insert


class DueBeingPaid(Exception):
    """Somebody is paying the due, and nobody knows yet what becomes of that."""


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


_TAKE_IN = PreparedUpdate(
    lambda: Due.objects.filter(id=Param("due"), paid_minor=Param("before"), state__in=Due.UNPAID),
    paid_minor=Param("paid"),
    state=Param("state", CharField()),
    paid_at=Param("at", DateTimeField()),
    next_try_at=None,
)


def take_in(due: Due, minor: int, now: datetime) -> None:
    """So much of the due is paid. In the transaction under way.

    It takes no more than is left of it: what is charged was bounded by that when it was begun, and nothing else can
    touch the due meanwhile.
    """
    before, paid = due.paid_minor, due.paid_minor + minor
    is_whole = paid == due.amount_minor
    state = Due.State.PAID if is_whole else Due.State.PAID_IN_PART
    at = now if is_whole else None
    if not _TAKE_IN.run(due=due.pk, before=before, paid=paid, state=state, at=at):
        raise RuntimeError(f"due {due.pk} was changed while it was being paid")
    due.paid_minor, due.state, due.paid_at, due.next_try_at = paid, state, at, None


def fail_dues(dues: Sequence[Due], next_try_at: datetime | None) -> None:
    """The dues could not be collected; they are tried again then, or by nobody. In the transaction under way."""
    _close(dues, Due.State.FAILED, next_try_at)


def waive_due(due: Due) -> None:
    """Ask for what is left of the due no more. In the transaction under way. Raises ``DueBeingPaid``."""
    if due.allocations.filter(undecided=True).exists():
        raise DueBeingPaid
    _close([due], Due.State.WAIVED)


def cancel_dues(checkout_id: int) -> None:
    """What is left of the dues of a checkout is owed no more, those apart that somebody is paying."""
    being_paid = Allocation.objects.filter(due=OuterRef("pk"), undecided=True)
    owed = Due.objects.select_for_update().filter(~Exists(being_paid), checkout=checkout_id, state__in=Due.UNPAID)
    _close(owed, Due.State.CANCELLED)


def _close(dues: Iterable[Due], state: Due.State, next_try_at: datetime | None = None) -> None:
    for due in dues:
        if Due.objects.filter(id=due.pk, state__in=Due.UNPAID).update(state=state, next_try_at=next_try_at):
            due.state, due.next_try_at = state, next_try_at
