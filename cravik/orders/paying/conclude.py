"""The answer to an attempt, written down: an approval makes the order or pays more of it, anything else gives back what
was held."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from functools import partial
from typing import NamedTuple

import structlog
from django.db import transaction
from structlog.contextvars import get_contextvars

from cravik.core.statistics.ladder import Rung
from cravik.journal.services import climb
from cravik.orders.acts.card_changed import note_new_card
from cravik.orders.acts.confirm_wanted import want_confirmation
from cravik.orders.acts.due_failed import fail_dues
from cravik.orders.acts.due_paid import count_as_paid, pay_dues
from cravik.orders.acts.order_made import make_order
from cravik.orders.models import Order
from cravik.payments.agreements import keep_card
from cravik.payments.gateway import Approved, CheckWanted, Decided, Undecided
from cravik.payments.holding import hold_longer, release_all
from cravik.payments.models import Allocation, Attempt, Hold
from cravik.payments.services import await_money, leave_open, record_answer
from cravik.payments.ways import Ways, way_of
from cravik.payments.ways.base import MoneyAwaited, WayAnswer
from cravik.ui.timings import Clock

logger = structlog.stdlib.get_logger("cravik.payments")


class Pressed(NamedTuple):
    """What a press has just written, so that it need not be looked up: the checkout has no order yet."""

    allocations: Sequence[Allocation]
    holds: Sequence[Hold]


def take_answer(attempt: Attempt, answer: WayAnswer, now: datetime, pressed: Pressed | None = None) -> bool:
    """Write down what was answered, and whether that was the attempt's end."""
    match answer:
        case CheckWanted(address):
            want_confirmation(attempt, address, now)
            return False
        case Undecided():
            leave_open(attempt, now)
            return False
        case MoneyAwaited(until):
            _promise(attempt, until, now, pressed)
            return False
    conclude(attempt, answer, now, pressed)
    return True


def call_off(attempt: Attempt, ways: Ways, clock: Clock) -> bool:
    """Let nothing more come of a pending attempt, unless it was decided meanwhile; whether it came to its end."""
    answer = way_of(ways, attempt).call_off(attempt)
    if answer is not None:
        conclude(attempt, answer, clock())
    return answer is not None


@transaction.atomic
def conclude(attempt: Attempt, answer: Decided, now: datetime, pressed: Pressed | None = None) -> None:
    """Record the answer, and do what follows from it, in one transaction. Safe to repeat."""
    if not record_answer(attempt, answer, now):
        attempt.refresh_from_db()
        return
    checkout = attempt.checkout
    order = None if pressed else Order.objects.select_for_update().filter(checkout=checkout).first()
    if order is not None:
        order.checkout = checkout
    allocations = pressed.allocations if pressed else list(attempt.allocations.select_related("due"))
    if isinstance(answer, Approved):
        counts_already = order is not None and order.paid_at is not None
        order = order or make_order(checkout, now, attempt.way, is_paid=True)
        if answer.kept:
            kept = keep_card(attempt, answer.kept, now, answer.ending)
            if counts_already:
                note_new_card(order, kept, now, by=attempt.actor)
        pay_dues(order, attempt, allocations, now)
        if not counts_already:
            count_as_paid(order, checkout, now, pressed.holds if pressed else None)
        _log_when_kept("paid", order=order.number, business=order.business_id, rehearsal=order.rehearsal)
        return
    if order is not None:
        fail_dues(order, attempt, allocations, now)
    else:
        release_all(checkout.pk)
        if checkout.visit_id:
            climb(checkout.visit_id, checkout.line.link_id, Rung.TRIED, now, checkout.line.code_id)
    _log_when_kept("not paid", state=attempt.state, reason=attempt.reason)


@transaction.atomic
def _promise(attempt: Attempt, until: datetime, now: datetime, pressed: Pressed | None) -> None:
    """The money was promised until then: the order is made, and what is scarce is held as long. Safe to repeat."""
    await_money(attempt, until, now)
    checkout = attempt.checkout
    hold_longer(checkout.pk, until)
    if pressed or not Order.objects.filter(checkout=checkout).exists():
        order = make_order(checkout, now, attempt.way, is_paid=False)
        _log_when_kept("promised", order=order.number, business=order.business_id, rehearsal=order.rehearsal)


def _log_when_kept(event: str, **about: object) -> None:
    """What is bound to the line is bound now: by the commit another attempt may be under way."""
    transaction.on_commit(partial(logger.bind(**get_contextvars(), **about).info, event))
