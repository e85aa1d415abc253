"""A rehearsed order's whole life, on a clock of its own that its seller moves on.

Everything that happens to what runs happens to it by the same code, day after day of its clock; only nothing counts and
no money moves. The clock of timed work leaves rehearsals alone.
"""

from __future__ import annotations

from datetime import date, timedelta

from dateutil.relativedelta import relativedelta

from cravik.orders.clock import clock_of, day_of
from cravik.orders.invoicing.issuing import issue_and_tell
from cravik.orders.models import Order
from cravik.orders.paying.reconcile import ask_again
from cravik.orders.running.due_now import end_if_over, resume_if_over, take_due, tell_of
from cravik.payments.models import Agreement, Attempt, Due
from cravik.payments.ways import Ways

#: So many days on which something happens are lived through at once, at most.
_MOST_STEPS = 120


def next_day_of(order: Order, agreement: Agreement) -> date | None:
    """The next day of its clock on which something happens; None where nothing does any more."""
    today = day_of(order, clock_of(agreement)())
    dues = Due.objects.filter(checkout=order.checkout_id, state__in=Due.UNPAID)
    days: list[date | None] = []
    if agreement.state == Agreement.State.RUNNING:
        days += dues.filter(collect_on__isnull=False).order_by("collect_on").values_list("collect_on", flat=True)[:1]
        days += dues.filter(tell_on__isnull=False).order_by("tell_on").values_list("tell_on", flat=True)[:1]
        days.append(agreement.ends_on + timedelta(days=1) if agreement.ends_on else None)
    days.append(agreement.resumes_on)
    waits = Attempt.objects.filter(checkout=order.checkout_id, state=Attempt.State.PENDING, awaited_until__isnull=False)
    days += [
        day_of(order, until) + timedelta(days=1) for until in waits.values_list("awaited_until", flat=True) if until
    ]
    return min((max(day, today) for day in days if day), default=None)


def live_on(order: Order, to: str, ways: Ways) -> int:
    """Move its clock on to the next day on which something happens, or by a month or a year, and let happen what
    happens on the way; returns on how many days something did."""
    agreement = Agreement.objects.get(checkout=order.checkout_id)
    today = day_of(order, clock_of(agreement)())
    last = {"month": today + relativedelta(months=1), "year": today + relativedelta(years=1)}.get(to)
    steps = 0
    while steps < _MOST_STEPS:
        day = next_day_of(order, agreement)
        if day is None or (last is not None and day > last):
            break
        _move_to(order, agreement, day)
        steps += 1
        _live_through(order, day, ways)
        agreement.refresh_from_db()
        if last is None:
            break
    if last is not None:
        _move_to(order, agreement, last)
    return steps


def _move_to(order: Order, agreement: Agreement, day: date) -> None:
    ahead = (day - day_of(order, clock_of(agreement)())).days
    if ahead > 0:
        agreement.ahead_days += ahead
        agreement.save(update_fields=["ahead_days"])


def _live_through(order: Order, day: date, ways: Ways) -> None:
    """What happens on that day of its clock, in the order in which the clock of timed work does it."""
    agreement = Agreement.objects.get(checkout=order.checkout_id)
    clock = clock_of(agreement)
    end_if_over(order, day, clock())
    resume_if_over(order, day, clock())
    waits = Attempt.objects.filter(checkout=order.checkout_id, state=Attempt.State.PENDING)
    for attempt in waits.filter(awaited_until__lt=clock()).select_related("checkout"):
        ask_again(attempt, ways, clock)
    take_due(order, day, ways, clock)
    ripe = Due.objects.filter(checkout=order.checkout_id, tell_on__lte=day, state__in=Due.UNPAID)
    for due_id in ripe.values_list("id", flat=True):
        tell_of(order, due_id, clock())
    issue_and_tell(order, clock())
