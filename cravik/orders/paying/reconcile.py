"""What was cut off, brought to its end: payments without an answer, and holds that nobody needs any more."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction
from structlog.contextvars import bound_contextvars

from cravik.orders.paying.conclude import call_off, conclude, record
from cravik.orders.refunding import bring_refund_to_its_end
from cravik.payments.gateway import Gateway
from cravik.payments.holding import lapsed, release_all
from cravik.payments.models import Attempt
from cravik.payments.refunding import pending_refunds
from cravik.payments.services import look_up_attempt, pending_since
from cravik.ui.timings import called_off_after


def reconcile(gateway: Gateway, begun_before: datetime, now: datetime) -> int:
    """Take what the gateway tells by itself, ask it about every other attempt and every refund without an answer that
    began before then, call off what nobody decided in time, and give back lapsed holds.

    Returns how many attempts and refunds came to their end. Whoever else concludes the same one, it is recorded once.
    """
    concluded = take_notices(gateway, now)
    for attempt in pending_since(begun_before):
        with bound_contextvars(attempt=attempt.pk):
            concluded += bring_to_its_end(attempt, gateway, now)
    for refund in pending_refunds(begun_before):
        with bound_contextvars(refund=refund.pk):
            concluded += bring_refund_to_its_end(refund, gateway, now)
    for checkout_id in lapsed(now):
        with transaction.atomic():
            release_all(checkout_id)
    return concluded


def take_notices(gateway: Gateway, now: datetime) -> int:
    """Conclude what the gateway tells without being asked, and return how many attempts that ended."""
    concluded, notices = 0, gateway.notices()
    told_of = Attempt.objects.select_related("due__checkout").filter(key__in={notice.key for notice in notices})
    attempts = {attempt.key: attempt for attempt in told_of} if notices else {}
    for notice in notices:
        attempt = attempts.get(notice.key)
        if attempt is not None and attempt.state == Attempt.State.PENDING:
            with bound_contextvars(attempt=attempt.pk):
                conclude(attempt, notice.answer, now)
            concluded += 1
        gateway.acknowledge(notice)
    return concluded


def bring_to_its_end(attempt: Attempt, gateway: Gateway, now: datetime) -> bool:
    """Ask what became of a pending attempt, call it off where nobody decided in time, and say whether it ended."""
    answer = look_up_attempt(gateway, attempt)
    if answer is not None and record(attempt, answer, now):
        return True
    return now - attempt.begun_at > called_off_after() and call_off(attempt, gateway, now)
