"""Agreements: written down with the press, begun with the order, gone on with as their dues are paid."""

from __future__ import annotations

from datetime import date, datetime

from cravik.checkout.models import Checkout
from cravik.core.documents.plans import read_repeat_plan
from cravik.core.documents.writing import written
from cravik.core.pricing.money import Money
from cravik.core.pricing.quote import Quote
from cravik.core.pricing.schedule import LISTED_WITHOUT_END, RepeatPlan, SimplePlan
from cravik.core.text.schedule_words import in_all, schedule_words
from cravik.payments.models import Agreement, Attempt, Due, KeptCard
from cravik.payments.ways.card import card_ending
from cravik.upkeep.prepared import insert

_KEEPS_CARD = "The card is kept, for payments that you agree on later."


def write_agreement(checkout: Checkout, plan: SimplePlan, quoted: Quote, on: date, now: datetime) -> Agreement:
    """What the buyer agrees to with the press beyond what is paid now. In the transaction of the press; an earlier
    press of the same page came to nothing, and what it said is written anew."""
    later = quoted.schedule
    has_end = not (isinstance(plan, RepeatPlan) and plan.payments is None)
    agreement = Agreement.objects.filter(checkout=checkout).first() or Agreement(checkout=checkout)
    agreement.words = schedule_words(plan, quoted, on) if later else _KEEPS_CARD
    agreement.plan = written(plan) if later else None
    agreement.begins_on, agreement.agreed_at = on, now
    agreement.until = later[-1].on if later and has_end else None
    agreement.each_minor = _each(quoted).minor
    agreement.at_first_minor = later[0].amount.minor if quoted.lasting is not None else None
    agreement.in_all_minor = in_all(plan, quoted, on).amount.minor if later and has_end else None
    agreement.currency = quoted.currency
    agreement.save()
    return agreement


def drop_agreement(checkout: Checkout) -> None:
    """The buyer agrees to nothing beyond what is paid now, whatever an earlier press of the page said."""
    Agreement.objects.filter(checkout=checkout, state=Agreement.State.OFFERED).delete()


def start_agreement(checkout_id: int) -> None:
    """The order is made: what was agreed to holds. In the transaction under way."""
    offered = Agreement.objects.filter(checkout_id=checkout_id, state=Agreement.State.OFFERED)
    offered.update(state=Agreement.State.RUNNING)


def keep_card(attempt: Attempt, token: str, now: datetime) -> KeptCard:
    """The gateway keeps the card with which the attempt was approved. In the transaction under way."""
    kept = insert(
        KeptCard(
            business_id=attempt.checkout.business_id,
            kept_by=attempt,
            token=token,
            ending=card_ending(attempt),
            kept_at=now,
        )
    )
    agreed = Agreement.objects.filter(checkout_id=attempt.checkout_id).exclude(state=Agreement.State.ENDED)
    agreed.update(kept_card=kept, state=Agreement.State.RUNNING)
    return kept


def go_on_with_agreement(checkout: Checkout, now: datetime) -> None:
    """Some of its dues are paid: a plan without an end gets as many more ahead, and one with an end is over with its
    last. In the transaction under way."""
    running = Agreement.objects.filter(checkout=checkout, state=Agreement.State.RUNNING)
    agreement = running.select_for_update().first()
    if agreement is None or agreement.plan is None:
        return
    dues = list(checkout.dues.order_by("position"))
    if agreement.until is None:
        _plan_ahead(agreement, dues)
    elif not any(due.state in Due.UNPAID for due in dues):
        agreement.state, agreement.ended_at = Agreement.State.ENDED, now
        agreement.save(update_fields=["state", "ended_at"])


def _plan_ahead(agreement: Agreement, dues: list[Due]) -> None:
    """As many dues of a plan without an end as are listed with its quote stay ahead."""
    plan = read_repeat_plan(agreement.plan, agreement.currency)
    ahead = sum(due.state in Due.UNPAID for due in dues)
    last = dues[-1].position
    for position in range(last + 1, last + 1 + LISTED_WITHOUT_END - ahead):
        amount = agreement.each
        if plan.is_at_first(position) and agreement.at_first_minor is not None:
            amount = Money(agreement.at_first_minor, agreement.currency)
        insert(
            Due(
                checkout_id=agreement.checkout_id,
                position=position,
                on=plan.day_of(agreement.begins_on, position),
                amount_minor=amount.minor,
                currency=amount.currency,
            )
        )


def _each(quoted: Quote) -> Money:
    """What a payment comes to once the plan runs."""
    if quoted.lasting is not None:
        return quoted.lasting
    return quoted.schedule[-1].amount if quoted.schedule else Money(0, quoted.currency)
