"""What a checkout owes, and when: a list of dues for every plan, of which the first is paid now."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime, timedelta

from django.db.models import CharField, DateField, DateTimeField, Exists, OuterRef

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
    collect_on=Param("collect_on", DateField()),
    tell_on=Param("tell_on", DateField()),
)


def take_in(due: Due, minor: int, now: datetime) -> None:
    """So much of the due is paid. In the transaction under way.

    It takes no more than is left of it: what is charged was bounded by that when it was begun, and nothing else can
    touch the due meanwhile. What is left of it is asked for on the day on which all of it was to be.
    """
    before, paid = due.paid_minor, due.paid_minor + minor
    is_whole = paid == due.amount_minor
    state = Due.State.PAID if is_whole else Due.State.PAID_IN_PART
    at = now if is_whole else None
    collect_on, tell_on = (None, None) if is_whole else (due.collect_on, due.tell_on)
    changed = _TAKE_IN.run(
        due=due.pk, before=before, paid=paid, state=state, at=at, collect_on=collect_on, tell_on=tell_on
    )
    if not changed:
        raise RuntimeError(f"due {due.pk} was changed while it was being paid")
    due.paid_minor, due.state, due.paid_at, due.collect_on, due.tell_on = paid, state, at, collect_on, tell_on


def plan_collection(dues: Iterable[Due], tell_days: Mapping[int, int]) -> None:
    """Let the clock ask for the dues on their days, and tell of those whose positions are named so many days before.
    In the transaction under way."""
    for due in dues:
        before = tell_days.get(due.position)
        tell_on = due.on - timedelta(days=before) if before else None
        _await(due, due.on, tell_on)


def leave_to_buyer(due: Due, tell_on: date | None = None) -> None:
    """Let the clock not ask for the due by itself; its buyer is told of it on that day, if there is one."""
    _await(due, None, tell_on)


def _await(due: Due, collect_on: date | None, tell_on: date | None) -> None:
    if Due.objects.filter(id=due.pk, state__in=Due.UNPAID).update(collect_on=collect_on, tell_on=tell_on):
        due.collect_on, due.tell_on = collect_on, tell_on


def fail_dues(dues: Sequence[Due], collect_on: date | None) -> None:
    """The dues could not be collected; the clock looks at them again on that day, or never. In the transaction under
    way."""
    _close(dues, Due.State.FAILED, collect_on)


def skip_due(due: Due) -> None:
    """Leave the due out. In the transaction under way. Raises ``DueBeingPaid``."""
    _let_go(due, Due.State.SKIPPED)


def waive_due(due: Due) -> None:
    """Ask for what is left of the due no more. In the transaction under way. Raises ``DueBeingPaid``."""
    _let_go(due, Due.State.WAIVED)


def drop_due(due: Due) -> None:
    """The due comes to nothing. In the transaction under way. Raises ``DueBeingPaid``."""
    _let_go(due, Due.State.CANCELLED)


def change_due(due: Due, on: date, minor: int) -> None:
    """Let it fall on another day, or come to another sum that is no less than what is paid of it. In the transaction
    under way. Raises ``DueBeingPaid``."""
    if due.allocations.filter(undecided=True).exists():
        raise DueBeingPaid
    if not due.paid_minor < max(minor, 1):
        raise ValueError(f"{due.paid_minor} are paid of it")
    collect_on, tell_on = due.collect_on, due.tell_on
    if on != due.on:  # else it is asked for and told of as before
        collect_on, tell_on = (on, None) if collect_on else (None, on)
    changed = Due.objects.filter(id=due.pk, state__in=Due.UNPAID, paid_minor=due.paid_minor)
    changed.update(on=on, amount_minor=minor, collect_on=collect_on, tell_on=tell_on)
    due.on, due.amount_minor, due.collect_on, due.tell_on = on, minor, collect_on, tell_on


def _let_go(due: Due, state: Due.State) -> None:
    if due.allocations.filter(undecided=True).exists():
        raise DueBeingPaid
    _close([due], state)


def cancel_dues(checkout_id: int) -> None:
    """What is left of the dues of a checkout is owed no more, those apart that somebody is paying."""
    being_paid = Allocation.objects.filter(due=OuterRef("pk"), undecided=True)
    owed = Due.objects.select_for_update().filter(~Exists(being_paid), checkout=checkout_id, state__in=Due.UNPAID)
    _close(owed, Due.State.CANCELLED)


def _close(dues: Iterable[Due], state: Due.State, collect_on: date | None = None) -> None:
    for due in dues:
        unpaid = Due.objects.filter(id=due.pk, state__in=Due.UNPAID)
        if unpaid.update(state=state, collect_on=collect_on, tell_on=None):
            due.state, due.collect_on, due.tell_on = state, collect_on, None
