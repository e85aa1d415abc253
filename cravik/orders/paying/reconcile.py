"""What was cut off, brought to its end: payments without an answer, and holds that nobody needs any more."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction
from structlog.contextvars import bound_contextvars

from cravik.orders.paying.conclude import call_off, conclude, take_answer
from cravik.orders.refunding import ask_about_refund
from cravik.payments.holding import lapsed, release_all
from cravik.payments.models import Attempt
from cravik.payments.refunding import pending_refunds
from cravik.payments.services import CUT_OFF_AFTER, pending_since
from cravik.payments.ways import Ways, way_of
from cravik.payments.ways.base import Way
from cravik.ui.timings import Clock


def reconcile(ways: Ways, begun_before: datetime, clock: Clock) -> int:
    """Take what ways to pay tell by themselves, ask them about every other attempt and every refund without an answer
    that began before then, call off what nobody decided in time, and give back lapsed holds.

    Returns how many attempts and refunds came to their end. Whoever else concludes the same one, it is recorded once.
    """
    concluded = take_notices(ways, clock)
    for attempt in pending_since(begun_before, clock()):
        with bound_contextvars(attempt=attempt.pk):
            concluded += ask_again(attempt, ways, clock)
    for refund in pending_refunds(begun_before):
        with bound_contextvars(refund=refund.pk):
            concluded += ask_about_refund(refund, ways, clock)
    for checkout_id in lapsed(clock()):
        with transaction.atomic():
            release_all(checkout_id)
    return concluded


def take_notices(ways: Ways, clock: Clock) -> int:
    """Conclude what is told without being asked for, and return how many attempts that ended."""
    return sum(_take_notices_of(way, clock) for way in ways.values())


def _take_notices_of(way: Way, clock: Clock) -> int:
    concluded, notices = 0, way.notices()
    told_of = Attempt.objects.select_related("checkout").filter(key__in={notice.key for notice in notices})
    attempts = {attempt.key: attempt for attempt in told_of} if notices else {}
    for notice in notices:
        attempt = attempts.get(notice.key)
        if attempt is not None and attempt.state == Attempt.State.PENDING:
            with bound_contextvars(attempt=attempt.pk):
                conclude(attempt, notice.answer, clock())
            concluded += 1
        way.acknowledge(notice)
    return concluded


def look_into(attempt: Attempt, ways: Ways, clock: Clock) -> None:
    """See whether a pending attempt has its answer by now. A request that may be on its way is not asked about."""
    take_notices(ways, clock)
    attempt.refresh_from_db()
    now = clock()
    is_waited_for = attempt.awaited_until is not None and now <= attempt.awaited_until
    if attempt.state == Attempt.State.PENDING and not is_waited_for and now - attempt.begun_at > CUT_OFF_AFTER:
        ask_again(attempt, ways, clock)
        attempt.refresh_from_db()


def ask_again(attempt: Attempt, ways: Ways, clock: Clock) -> bool:
    """Ask what became of a pending attempt, call it off where nobody decided in time, and say whether it ended."""
    way = way_of(ways, attempt)
    answer = way.look_up(attempt)
    if answer is not None and take_answer(attempt, answer, clock()):
        return True
    until = attempt.awaited_until or attempt.begun_at + way.patience()
    return clock() > until and call_off(attempt, ways, clock)
