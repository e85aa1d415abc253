"""What is paid over time is paused, and goes on: nothing is collected meanwhile, and what fell due then is left out."""

from __future__ import annotations

from datetime import date, datetime

from django.db import transaction

from cravik.core.english import day_words
from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.orders.happened import about
from cravik.orders.happened_over_time import RunningPaused, RunningResumed
from cravik.orders.models import Order
from cravik.orders.over_time_letters import letter_of_change, next_words, notices_of_change
from cravik.payments.agreements import plan_ahead
from cravik.payments.dues import DueBeingPaid, skip_due
from cravik.payments.models import Agreement, Due
from cravik.people.actors import Actor


class NotRunning(Exception):
    """It is paused or over already, or does not repeat."""


def locked_agreement(order: Order, *states: Agreement.State) -> Agreement:
    """The order's agreement, if it is in one of those states. In the transaction under way. Raises ``NotRunning``."""
    found = Agreement.objects.select_for_update().filter(checkout=order.checkout_id, state__in=states)
    agreement = found.select_related("kept_card").first()
    if agreement is None:
        raise NotRunning
    return agreement


@transaction.atomic
def pause(order: Order, now: datetime, *, by: Actor, resumes_on: date | None = None) -> None:
    """Collect nothing until it goes on, or until that day. Raises ``NotRunning``."""
    agreement = locked_agreement(order, Agreement.State.RUNNING)
    if not agreement.repeats or agreement.ends_on:
        raise NotRunning
    why = Agreement.Why.BUYER if by.kind == "buyer" else Agreement.Why.SELLER
    set_paused(agreement, why, now, resumes_on)
    write(RunningPaused(why, resumes_on.isoformat() if resumes_on else ""), about(order), now, by)
    until = f"until {day_words(resumes_on)}" if resumes_on else "until you resume"
    occasion = f"paused-{agreement.pk}-{now:%Y%m%dT%H%M%S}"
    details = (f"Nothing is taken {until}. Payments that fall due meanwhile are left out and not made up for.",)
    queue_letters(order.business, [letter_of_change(order, occasion, "your payments are paused", *details)], now)
    if by.kind == "buyer":
        queue_letters(order.business, notices_of_change(order, occasion, "paused their payments", *details), now)


def set_paused(agreement: Agreement, why: Agreement.Why, now: datetime, resumes_on: date | None = None) -> None:
    """In the transaction under way."""
    agreement.state, agreement.why = Agreement.State.PAUSED, why
    agreement.paused_at, agreement.resumes_on = now, resumes_on
    agreement.save(update_fields=["state", "why", "paused_at", "resumes_on"])


@transaction.atomic
def resume(order: Order, now: datetime, today: date, *, by: Actor) -> None:
    """Collect again from today on; what fell due before is left out. Raises ``NotRunning``."""
    agreement = locked_agreement(order, Agreement.State.PAUSED)
    agreement.state, agreement.why, agreement.paused_at, agreement.resumes_on = Agreement.State.RUNNING, "", None, None
    agreement.save(update_fields=["state", "why", "paused_at", "resumes_on"])
    if agreement.repeats:
        _leave_out_before(agreement, today)
    write(RunningResumed(), about(order), now, by)
    occasion = f"resumed-{agreement.pk}-{now:%Y%m%dT%H%M%S}"
    words = next_words(order.checkout_id)
    queue_letters(order.business, [letter_of_change(order, occasion, "your payments go on", words)], now)
    if by.kind == "buyer":
        queue_letters(order.business, notices_of_change(order, occasion, "resumed their payments", words), now)


def _leave_out_before(agreement: Agreement, today: date) -> None:
    dues = list(Due.objects.filter(checkout=agreement.checkout_id).order_by("position"))
    for due in dues:
        if due.on < today and due.state in Due.UNPAID and not due.paid_minor:
            try:
                skip_due(due)
            except DueBeingPaid:
                continue  # it is paid, or is due as before
    if agreement.until is None:
        plan_ahead(agreement, dues, today)
