"""Agreements: written down with the press, begun with the order, gone on with as their dues are paid."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from cravik.checkout.models import Checkout
from cravik.core.documents.plans import read_repeat_plan
from cravik.core.documents.writing import written
from cravik.core.link.running import RunningRules
from cravik.core.pricing.money import Money
from cravik.core.pricing.quote import Quote
from cravik.core.pricing.schedule import LISTED_WITHOUT_END, RepeatPlan, SimplePlan
from cravik.core.text.money_text import DEFAULT_LOCALE
from cravik.core.text.running_words import KEEPS_CARD, agreed_words
from cravik.core.text.schedule_words import in_all, schedule_words
from cravik.payments.dues import leave_to_buyer, plan_collection
from cravik.payments.models import Agreement, Attempt, Due, KeptCard
from cravik.payments.ways.card import card_ending
from cravik.setup.running import write_rules
from cravik.upkeep.prepared import insert


def write_agreement(
    checkout: Checkout, plan: SimplePlan, quoted: Quote, on: date, rules: RunningRules, now: datetime
) -> Agreement:
    """What the buyer agrees to with the press beyond what is paid now, and the ``rules`` of the page. In the
    transaction of the press; an earlier press of the same page came to nothing, and what it said is written anew."""
    later = quoted.schedule
    has_end = not (isinstance(plan, RepeatPlan) and plan.payments is None)
    agreement = Agreement.objects.filter(checkout=checkout).first() or Agreement(checkout=checkout)
    agreement.business_id, agreement.rehearsal = checkout.business_id, checkout.rehearsal
    agreement.words = KEEPS_CARD
    if later:
        schedule = schedule_words(plan, quoted, on, checkout.number_locale or DEFAULT_LOCALE)
        agreement.words = f"{schedule}. {agreed_words(plan, rules)}"
    agreement.rules = write_rules(rules)
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
    """The order is made: what was agreed to holds, and its dues are collected on their days. In the transaction under
    way."""
    offered = Agreement.objects.filter(checkout_id=checkout_id, state=Agreement.State.OFFERED)
    agreement = offered.first()
    if agreement is None:
        return
    offered.update(state=Agreement.State.RUNNING)
    later = list(Due.objects.filter(checkout_id=checkout_id, position__gt=0, state__in=Due.UNPAID))
    rules, kind = agreement.agreed_rules, (agreement.plan or {}).get("kind")
    # A trial's end, and a rest, are told of beforehand, unless they are so near that the first letter tells of them.
    told = {
        due.position: rules.tell_days
        for due in later
        if due.on - timedelta(days=rules.tell_days) > agreement.begins_on
        and (kind == "deposit" or (due.position == 1 and _has_trial(agreement)))
    }
    if kind == "deposit" and not rules.rest_is_charged:
        for due in later:
            leave_to_buyer(due, due.on - timedelta(days=told.get(due.position, 0)))
    else:
        plan_collection(later, told)


def _has_trial(agreement: Agreement) -> bool:
    plan = agreement.plan or {}
    return bool(plan.get("trial_days") or plan.get("trial_months"))


def keep_card(attempt: Attempt, token: str, now: datetime, ending: str = "") -> KeptCard:
    """The gateway keeps the card with which the attempt was approved, or the one of that ``ending`` that its bank put
    in its place. In the transaction under way."""
    kept = insert(
        KeptCard(
            business_id=attempt.checkout.business_id,
            kept_by=attempt,
            token=token,
            ending=ending or card_ending(attempt),
            kept_at=now,
        )
    )
    agreed = Agreement.objects.filter(checkout_id=attempt.checkout_id).exclude(state=Agreement.State.ENDED)
    agreed.update(kept_card=kept)
    agreed.filter(state=Agreement.State.OFFERED).update(state=Agreement.State.RUNNING)
    return kept


def go_on_with_agreement(agreement: Agreement, checkout: Checkout, now: datetime) -> None:
    """Some of its dues are paid: a plan without an end gets as many more ahead, and one with an end is over with its
    last. The agreement was read in the transaction under way."""
    is_alive = agreement.state in (Agreement.State.RUNNING, Agreement.State.PAUSED)
    if not is_alive or agreement.plan is None or agreement.ends_on is not None:
        return
    dues = list(checkout.dues.order_by("position"))
    if agreement.until is None:
        plan_ahead(agreement, dues, now.astimezone(ZoneInfo(checkout.business.time_zone)).date())
    elif not any(due.state in Due.UNPAID for due in dues):
        end_agreement(agreement, Agreement.Why.COMPLETED, now)


def end_agreement(agreement: Agreement, why: Agreement.Why, now: datetime) -> None:
    """It is over. In the transaction under way."""
    agreement.state, agreement.why, agreement.ended_at = Agreement.State.ENDED, why, now
    agreement.paused_at, agreement.resumes_on, agreement.ends_on = None, None, None
    agreement.save(update_fields=["state", "why", "ended_at", "paused_at", "resumes_on", "ends_on"])


def plan_ahead(agreement: Agreement, dues: list[Due], today: date) -> None:
    """As many dues of a plan without an end as are listed with its quote stay ahead of today; after a long sleep those
    before it are there too."""
    plan = read_repeat_plan(agreement.plan, agreement.currency)
    ahead = sum(due.state in Due.UNPAID and not due.reason and due.on > today for due in dues)
    last = max(due.position for due in dues if not due.reason)
    position = last
    while ahead < LISTED_WITHOUT_END:
        position += 1
        amount = agreement.each
        if plan.is_at_first(position) and agreement.at_first_minor is not None:
            amount = Money(agreement.at_first_minor, agreement.currency)
        day = plan.day_of(agreement.begins_on, position)
        ahead += day > today
        insert(
            Due(
                checkout_id=agreement.checkout_id,
                position=position,
                on=day,
                collect_on=day,
                amount_minor=amount.minor,
                currency=amount.currency,
            )
        )


def _each(quoted: Quote) -> Money:
    """What a payment comes to once the plan runs."""
    if quoted.lasting is not None:
        return quoted.lasting
    return quoted.schedule[-1].amount if quoted.schedule else Money(0, quoted.currency)
