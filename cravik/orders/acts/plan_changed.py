"""Another price for what runs: proposed by its seller, and held to once its buyer accepts it."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from django.db import transaction

from cravik.core.english import day_words
from cravik.core.pricing.money import Money
from cravik.core.text.money_text import format_money_clearly
from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.orders.acts.due_changed import OutOfBounds
from cravik.orders.acts.plan_paused import NotRunning, locked_agreement
from cravik.orders.happened import about
from cravik.orders.happened_over_time import PriceAnswered, PriceProposed
from cravik.orders.models import Order
from cravik.orders.over_time_letters import letter_of_change, notices_of_change
from cravik.payments.dues import DueBeingPaid, change_due
from cravik.payments.models import Agreement, Due, Proposal
from cravik.people.actors import BUYER, Actor

_ALIVE = (Agreement.State.RUNNING, Agreement.State.PAUSED)
_WITHIN = timedelta(days=731)


@transaction.atomic
def propose(
    order: Order, amount: Money, from_on: date, today: date, words: str, now: datetime, *, by: Actor
) -> Proposal:
    """Propose another sum for each payment from that day on; nothing changes by it. Raises ``NotRunning``, also where
    one is open already, and ``OutOfBounds``."""
    agreement = locked_agreement(order, Agreement.State.RUNNING)
    is_open = agreement.proposals.filter(answered_at__isnull=True).exists()
    if not agreement.repeats or agreement.ends_on or is_open:
        raise NotRunning
    if amount == agreement.each or not today < from_on <= today + _WITHIN:
        raise OutOfBounds
    made = Proposal.objects.create(
        agreement=agreement,
        amount_minor=amount.minor,
        currency=amount.currency,
        from_on=from_on,
        words=words,
        made_at=now,
    )
    write(PriceProposed(amount.minor, amount.currency, from_on.isoformat(), words), about(order), now, by)
    each, sum_of = format_money_clearly(agreement.each), format_money_clearly(amount)
    details = (
        f"{order.business.name} proposes {sum_of} for each payment from {day_words(from_on)} on, instead of {each}.",
        words,
        "It holds only if you accept it on the page below. Without your yes, everything stays as it is.",
    )
    letter = letter_of_change(order, f"proposal-{made.pk}", "a new price is proposed", *details)
    queue_letters(order.business, [letter], now)
    return made


@transaction.atomic
def answer_proposal(order: Order, proposal_id: int, now: datetime, *, accepts: bool) -> None:
    """The buyer's yes or no. Raises ``NotRunning`` where it is not open any more."""
    agreement = locked_agreement(order, *_ALIVE)
    proposal = agreement.proposals.select_for_update().filter(id=proposal_id, answered_at__isnull=True).first()
    if proposal is None or agreement.ends_on:
        raise NotRunning
    proposal.answered_at, proposal.accepted = now, accepts
    proposal.save(update_fields=["answered_at", "accepted"])
    if accepts:
        _hold_to(agreement, proposal)
    write(PriceAnswered(proposal.amount_minor, proposal.currency, accepts), about(order), now, BUYER)
    amount, on = format_money_clearly(proposal.amount), day_words(proposal.from_on)
    occasion = f"proposal-answered-{proposal.pk}"
    if accepts:
        said = f"Each payment from {on} on is {amount}."
        queue_letters(order.business, [letter_of_change(order, occasion, "the new price is agreed", said)], now)
        notices = notices_of_change(order, occasion, "accepted the new price", said)
    else:
        said = f"They declined {amount} from {on} on. Everything stays as it was agreed."
        notices = notices_of_change(order, occasion, "declined the new price", said)
    queue_letters(order.business, notices, now)


def _hold_to(agreement: Agreement, proposal: Proposal) -> None:
    """What is due from its day on comes to the new sum, and it is written down beside what was agreed before."""
    amount = format_money_clearly(proposal.amount)
    added = f" From {day_words(proposal.from_on)} on {amount} each, as agreed later."
    agreement.each_minor, agreement.words = proposal.amount_minor, (agreement.words + added)[:1000]
    agreement.save(update_fields=["each_minor", "words"])
    ahead = Due.objects.filter(
        checkout=agreement.checkout_id, on__gte=proposal.from_on, state__in=Due.UNPAID, reason="", paid_minor=0
    )
    for due in ahead:
        try:
            change_due(due, due.on, proposal.amount_minor)
        except DueBeingPaid:
            continue  # it is asked for at the former sum just now
