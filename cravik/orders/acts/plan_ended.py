"""What is paid over time is stopped, by its buyer or seller, or ends since a payment could not be taken."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from django.db import transaction

from cravik.core.english import day_words
from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.orders.acts.plan_paused import NotRunning, locked_agreement, set_paused
from cravik.orders.happened import about
from cravik.orders.happened_over_time import RunningEnded, RunningPaused, RunningStopped
from cravik.orders.models import Order
from cravik.orders.over_time_letters import letter_of_change, notices_of_change
from cravik.payments.agreements import end_agreement
from cravik.payments.dues import cancel_dues
from cravik.payments.models import Agreement, Due
from cravik.people.actors import BUYER, CLOCK, Actor


def last_day_if_stopped(agreement: Agreement, today: date, *, at_once: bool) -> date:
    """The last day of what was paid, if it is stopped today: today, or the day before the next payment."""
    if at_once or agreement.state == Agreement.State.PAUSED:
        return today
    ahead = Due.objects.filter(checkout=agreement.checkout_id, state__in=Due.UNPAID, on__gt=today).order_by("on")
    following = ahead.values_list("on", flat=True).first()
    return following - timedelta(days=1) if following else today


@transaction.atomic
def stop(order: Order, now: datetime, today: date, *, by: Actor, at_once: bool, why: str = "") -> date:
    """Take nothing any more, and let it end today or with what was paid; returns its last day.

    A payment that is being made just now may still come through. Raises ``NotRunning``.
    """
    agreement = locked_agreement(order, Agreement.State.RUNNING, Agreement.State.PAUSED)
    if agreement.ends_on or not (agreement.repeats or agreement.plan is None or by.kind != "buyer"):
        raise NotRunning
    last = last_day_if_stopped(agreement, today, at_once=at_once)
    cancel_dues(order.checkout_id)
    agreement.stop_words = why[:300]
    agreement.why = Agreement.Why.BUYER if by.kind == "buyer" else Agreement.Why.SELLER
    agreement.ends_on = last
    if agreement.state == Agreement.State.PAUSED:
        agreement.state, agreement.paused_at, agreement.resumes_on = Agreement.State.RUNNING, None, None
    agreement.save(update_fields=["stop_words", "why", "ends_on", "state", "paused_at", "resumes_on"])
    write(RunningStopped(last.isoformat(), why), about(order), now, by)
    occasion = f"stopped-{agreement.pk}"
    until = "It is over today." if last <= today else f"What you paid for runs until {day_words(last)}."
    letters = [letter_of_change(order, occasion, "your payments are stopped", "Nothing more is taken.", until)]
    if by.kind == "buyer":
        said = f"They say: “{why}”" if why else ""
        ends = f"It ends on {day_words(last)}."
        letters += notices_of_change(order, occasion, "stopped their payments", ends, said)
    queue_letters(order.business, letters, now)
    if last <= today:
        end_stopped(order, agreement, now)
    return last


def end_stopped(order: Order, agreement: Agreement, now: datetime) -> None:
    """Its last day is over, or it was stopped at once. In the transaction under way."""
    end_agreement(agreement, Agreement.Why(agreement.why), now)
    write(RunningEnded(agreement.why), about(order), now, CLOCK)


@transaction.atomic
def end_withdrawn(order: Order, now: datetime) -> None:
    """Its buyer withdrew from all of it: nothing more is taken, whatever kind of plan it is."""
    alive = Agreement.objects.select_for_update().filter(checkout=order.checkout_id)
    agreement = alive.filter(state__in=[Agreement.State.RUNNING, Agreement.State.PAUSED]).first()
    if agreement is not None:
        cancel_dues(order.checkout_id)
        end_agreement(agreement, Agreement.Why.BUYER, now)
        write(RunningEnded(agreement.why), about(order), now, BUYER)


def give_up(order: Order, agreement: Agreement, now: datetime) -> None:
    """A due could not be taken however often it was tried: what repeats is paused or ended, as its seller decided; what
    is owed of anything else stays owed. In the transaction under way."""
    occasion = f"given-up-{agreement.pk}-{now:%Y%m%dT%H%M%S}"
    if agreement.repeats and agreement.agreed_rules.then == "end":
        cancel_dues(order.checkout_id)
        end_agreement(agreement, Agreement.Why.DECLINED, now)
        write(RunningEnded(agreement.why), about(order), now, CLOCK)
        what, details = "it has ended", "A payment couldn't be taken, so it has ended. Nothing more is taken."
    else:
        set_paused(agreement, Agreement.Why.DECLINED, now)
        write(RunningPaused(agreement.why), about(order), now, CLOCK)
        what = "your payments are paused"
        details = "A payment couldn't be taken. Nothing more is taken until you have paid it on the page below."
    letters = [letter_of_change(order, occasion, what, details)]
    letters += notices_of_change(order, occasion, "didn't pay in time", "The buyer was told: " + details)
    queue_letters(order.business, letters, now)
