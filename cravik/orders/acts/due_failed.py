"""A due of an order could not be collected, or the money that was promised for it did not come."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime, timedelta

from cravik.core.link.running import RunningRules, last_try, next_try
from cravik.events.writing import write, write_all
from cravik.mailroom.services import queue_letters
from cravik.orders.acts.plan_ended import give_up
from cravik.orders.clock import day_of
from cravik.orders.happened import DueFailed, NotPaidInTime, about
from cravik.orders.models import Order
from cravik.orders.over_time_letters import letters_of_failure
from cravik.payments import dues
from cravik.payments.gateway import MAY_PASS_LATER
from cravik.payments.holding import release_all
from cravik.payments.models import Agreement, Allocation, Attempt, Due
from cravik.people.actors import BUYER, CLOCK

_AGREED = (Agreement.State.RUNNING, Agreement.State.PAUSED)


def fail_dues(order: Order, attempt: Attempt, allocations: Sequence[Allocation], now: datetime) -> None:
    """What an attempt that was declined, or came to nothing, was for. In the transaction under way, in which the
    answer was recorded, so that it is done once.

    An order of which nothing was ever paid is over: it lets go of what it held, and nothing is owed for it any more. A
    due of any other that its buyer tried to pay is as it was before: they were shown why. One that the clock or the
    seller asked for has failed if it was declined, or its buyer did not confirm it; if nobody ever decided, it is open
    as before.
    """
    if order.paid_at is None:
        release_all(order.checkout_id)
        dues.cancel_dues(order.checkout_id)
        write(NotPaidInTime(), about(order), now, CLOCK)
        return
    if attempt.state != Attempt.State.DECLINED and attempt.reason != Attempt.CALLED_OFF:
        return
    failed = [
        DueFailed(each.amount_minor, attempt.currency, each.due.position, attempt.reason)
        for each in allocations
        if each.amount_minor  # else a card was to be kept
    ]
    write_all((what, about(order), now, attempt.actor) for what in failed)
    if attempt.by != BUYER.kind:
        _try_again_later(order, attempt, [each.due for each in allocations], now)


def _try_again_later(order: Order, attempt: Attempt, failed: list[Due], now: datetime) -> None:
    """By the seller's days if the reason may pass; for good if not, and then its buyer has as long to pay another
    way."""
    agreement = Agreement.objects.select_for_update().filter(checkout=order.checkout_id, state__in=_AGREED).first()
    rules = agreement.agreed_rules if agreement else RunningRules()
    today = day_of(order, now)
    first = min(_first_try(due, order) for due in failed)
    again_on = until = None
    if attempt.reason in MAY_PASS_LATER:
        again_on = next_try(first, today, rules.tries_after)
    elif (last := last_try(first, rules.tries_after)) > today:
        until = last
    looked_at_on = again_on or (until and until + timedelta(days=1))
    dues.fail_dues(failed, looked_at_on)
    letters = letters_of_failure(order, attempt, again_on, until, _then_words(agreement, rules))
    queue_letters(order.business, letters, now)
    if looked_at_on is None and agreement is not None and agreement.state == Agreement.State.RUNNING:
        give_up(order, agreement, now)


def _then_words(agreement: Agreement | None, rules: RunningRules) -> str:
    if agreement is None or not agreement.repeats:
        return ""
    return "After that it ends." if rules.then == "end" else "After that it pauses until it is paid."


def _first_try(due: Due, order: Order) -> date:
    tried = Attempt.objects.filter(allocations__due=due, state__in=(Attempt.State.DECLINED, Attempt.State.VOID))
    begun = tried.exclude(by=BUYER.kind).order_by("begun_at").values_list("begun_at", flat=True).first()
    return max(due.on, day_of(order, begun)) if begun else due.on
