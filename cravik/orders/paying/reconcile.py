"""What was cut off, brought to its end: payments without an answer, and holds that nobody needs any more."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction
from structlog.contextvars import bound_contextvars

from cravik.orders.paying.conclude import conclude
from cravik.payments.gateway import Gateway
from cravik.payments.holding import lapsed, release_all
from cravik.payments.services import look_up_attempt, pending_since


def reconcile(gateway: Gateway, begun_before: datetime, now: datetime) -> int:
    """Ask the gateway about every attempt without an answer that began before then, and give back lapsed holds.

    Returns how many attempts came to their end. Whoever else concludes the same one, it is recorded once.
    """
    concluded = 0
    for attempt in pending_since(begun_before):
        with bound_contextvars(attempt=attempt.pk):
            if answer := look_up_attempt(gateway, attempt):
                conclude(attempt, answer, now)
                concluded += 1
    for checkout_id in lapsed(now):
        with transaction.atomic():
            release_all(checkout_id)
    return concluded
