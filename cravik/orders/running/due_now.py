"""The clock's part of what is paid over time: it takes what is due on its seller's day, each due once, tells of what
comes, and ends and resumes what is to end or resume.

Every step finds out itself what there is to do, so it may be cut off anywhere, run twice, or come a month late. Of
several dues of one order that are overdue one is taken, and the others wait for a word from their buyer.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta

import structlog
from django.db import transaction

from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.orders.acts.plan_ended import end_stopped, give_up
from cravik.orders.acts.plan_paused import NotRunning, resume
from cravik.orders.acts.stock_again import take_stock_again
from cravik.orders.clock import day_of
from cravik.orders.happened import DuePaid, about
from cravik.orders.happened_over_time import DueChanged
from cravik.orders.models import Order
from cravik.orders.over_time_letters import letter_before, letter_of_waiting
from cravik.orders.running.collecting import ask
from cravik.payments.agreements import go_on_with_agreement, plan_ahead
from cravik.payments.dues import leave_to_buyer, take_in
from cravik.payments.gateway import MAY_PASS_LATER
from cravik.payments.models import Agreement, Allocation, Attempt, Due
from cravik.payments.services import begin_attempt
from cravik.payments.ways import Ways
from cravik.payments.ways.card import KeptCardMeans, bank_address
from cravik.people.actors import BUYER, CLOCK
from cravik.ui.timings import Clock

logger = structlog.stdlib.get_logger("cravik.running")

#: The farthest that any place is ahead of UTC.
_EARLIEST_PLACE = timedelta(hours=14)
#: When so many charges one after the other got no answer, the others wait until it runs again.
_SILENT_AT_MOST = 5
#: So many orders are read at once.
_AT_ONCE = 200


@dataclass
class Collected:
    """What one run came to."""

    charged: int = 0
    declined: int = 0
    others: int = 0
    #: Whether it stopped before all was done.
    is_cut_short: bool = False

    @property
    def total(self) -> int:
        return self.charged + self.declined + self.others


def take_what_is_due(ways: Ways, clock: Clock, until: datetime | None = None) -> Collected:
    """Take what is due by now of every order that is no rehearsal, oldest first; begin no other after ``until``."""
    done, silent = Collected(), 0
    for order, today in orders_due(clock()):
        if (until is not None and clock() >= until) or silent >= _SILENT_AT_MOST:
            done.is_cut_short = True
            break
        try:
            attempt = take_due(order, today, ways, clock)
        except Exception as trouble:  # whatever is odd about one order holds up no other
            logger.exception("a due could not be taken", order=order.number, trouble=type(trouble).__name__)
            continue
        state = attempt.state if attempt else ""
        silent = silent + 1 if attempt and _is_silent(attempt) else 0
        done.charged += state == Attempt.State.APPROVED
        done.declined += state == Attempt.State.DECLINED
        done.others += state not in (Attempt.State.APPROVED, Attempt.State.DECLINED)
    return done


def _is_silent(attempt: Attempt) -> bool:
    """Whether nobody answered; a bank that asks its customer did."""
    return attempt.state in (Attempt.State.PENDING, Attempt.State.VOID) and not bank_address(attempt)


def orders_due(now: datetime) -> Iterator[tuple[Order, date]]:
    """The orders of which something is to be collected, each once, the longest due first, with their seller's day."""
    ripe = Due.objects.filter(collect_on__lte=(now + _EARLIEST_PLACE).date()).order_by("collect_on", "checkout_id")
    found = dict(reversed([(checkout_id, day) for checkout_id, day in ripe.values_list("checkout_id", "collect_on")]))
    checkouts = list(reversed(found))
    running = Order.objects.filter(
        rehearsal=False, paid_at__isnull=False, checkout__agreement__state=Agreement.State.RUNNING
    ).select_related("business", "checkout__business")
    for start in range(0, len(checkouts), _AT_ONCE):
        part = checkouts[start : start + _AT_ONCE]
        orders = {order.checkout_id: order for order in running.filter(checkout__in=part)}
        for checkout_id in part:
            order, day = orders.get(checkout_id), found[checkout_id]
            if order is not None and day is not None and day <= (today := day_of(order, now)):
                yield order, today


def take_due(order: Order, today: date, ways: Ways, clock: Clock) -> Attempt | None:
    """Take the first of the order's dues whose day has come, and let the others wait for their buyer; what became of
    it stands in the attempt, if one was made."""
    begun = _begin(order, today, clock())
    return ask(order, *begun, ways, clock, keep=False) if begun else None


@transaction.atomic
def _begin(order: Order, today: date, now: datetime) -> tuple[Attempt, KeptCardMeans] | None:
    """The attempt at the one that is to be charged now, which is written down and not asked for yet. What costs nothing
    is done at once; what was refused for good, and by the same card still, is given up."""
    running = Agreement.objects.select_for_update().filter(checkout=order.checkout_id, state=Agreement.State.RUNNING)
    agreement = running.select_related("kept_card").first()
    if agreement is None:
        return None
    ripe = Due.objects.filter(checkout=order.checkout_id, collect_on__lte=today, state__in=Due.UNPAID)
    dues = list(ripe.order_by("position"))
    if len(dues) > 1 and agreement.repeats and agreement.until is None:
        # After a sleep that was longer than what is listed of the plan, all of them are seen before one is taken.
        plan_ahead(agreement, list(Due.objects.filter(checkout=order.checkout_id)), today)
        dues = list(ripe.order_by("position"))
    tries = list(Allocation.objects.filter(due__in=dues).values_list("due_id", "undecided")) if dues else []
    if not dues or any(undecided for _, undecided in tries):
        return None
    first, *others = dues
    if others:
        _hold_back(order, others, now)
    if not first.left.minor:
        take_in(first, 0, now)
        write(DuePaid(0, first.currency, first.position), about(order), now, CLOCK)
        take_stock_again(order, agreement, now)
        go_on_with_agreement(agreement, order.checkout, now)
        return None
    if first.state == Due.State.FAILED and _is_refused_for_good(first, agreement):
        leave_to_buyer(first)
        give_up(order, agreement, now)
        return None
    if agreement.kept_card is None:
        return None
    key = f"due-{first.pk}-{sum(due_id == first.pk for due_id, _ in tries)}"
    card = KeptCardMeans(agreement.kept_card)
    attempt, _ = begin_attempt(order.checkout, {first: first.left.minor}, card, key, now, by=CLOCK)
    return attempt, card


def _hold_back(order: Order, dues: list[Due], now: datetime) -> None:
    for due in dues:
        leave_to_buyer(due)
        what = DueChanged("held_back", due.left.minor, due.currency, due.position, due.on.isoformat())
        write(what, about(order), now, CLOCK)
    queue_letters(order.business, [letter_of_waiting(order, dues)], now)


def _is_refused_for_good(due: Due, agreement: Agreement) -> bool:
    """Whether the last try was declined for a reason that does not pass, and the card is the same still."""
    tried = Attempt.objects.filter(allocations__due=due, state=Attempt.State.DECLINED).exclude(by=BUYER.kind)
    last = tried.order_by("-begun_at", "-id").first()
    if last is None or last.reason in MAY_PASS_LATER:
        return False
    kept = agreement.kept_card
    return kept is None or kept.kept_at <= last.begun_at


def tell_what_comes(now: datetime) -> int:
    """Write the letters about payments that come, and return how many."""
    ripe = Due.objects.filter(tell_on__lte=(now + _EARLIEST_PLACE).date(), checkout__rehearsal=False)
    told = 0
    for due in ripe.select_related("checkout__order__business").order_by("tell_on", "id")[:500]:
        order = due.checkout.order
        if due.tell_on is not None and due.tell_on <= day_of(order, now):
            told += tell_of(order, due.pk, now)
    return told


@transaction.atomic
def tell_of(order: Order, due_id: int, now: datetime) -> bool:
    """Tell the buyer of the due, and of one that is not taken by itself once more on its day."""
    due = Due.objects.select_for_update().get(id=due_id)
    agreement = Agreement.objects.filter(checkout=order.checkout_id).select_related("kept_card").first()
    if due.tell_on is None or due.state not in Due.UNPAID or agreement is None:
        return False
    if agreement.state == Agreement.State.RUNNING:
        queue_letters(order.business, [letter_before(order, due, agreement)], now)
    is_asked_for = due.collect_on is None and due.tell_on < due.on
    Due.objects.filter(id=due.pk).update(tell_on=due.on if is_asked_for else None)
    return agreement.state == Agreement.State.RUNNING


def end_and_resume(now: datetime) -> int:
    """End what was stopped and whose last day is over, let go on what was paused until today, and return how many."""
    latest = (now + _EARLIEST_PLACE).date()
    there = Agreement.objects.filter(rehearsal=False).select_related("checkout__order__business")
    changed = 0
    for agreement in there.filter(ends_on__lt=latest).order_by("ends_on")[:500]:
        changed += end_if_over(agreement.checkout.order, day_of(agreement.checkout.order, now), now)
    for agreement in there.filter(resumes_on__lte=latest).order_by("resumes_on")[:500]:
        changed += resume_if_over(agreement.checkout.order, day_of(agreement.checkout.order, now), now)
    return changed


@transaction.atomic
def end_if_over(order: Order, today: date, now: datetime) -> bool:
    """End it if it was stopped and its last day is over."""
    stopped = Agreement.objects.select_for_update().filter(checkout=order.checkout_id, ends_on__lt=today)
    agreement = stopped.first()
    if agreement is not None:
        end_stopped(order, agreement, now)
    return agreement is not None


def resume_if_over(order: Order, today: date, now: datetime) -> bool:
    """Let it go on if it was paused until today."""
    if not Agreement.objects.filter(checkout=order.checkout_id, resumes_on__lte=today).exists():
        return False
    try:
        resume(order, now, today, by=CLOCK)
    except NotRunning:
        return False
    return True
