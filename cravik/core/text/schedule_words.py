"""When a quote is paid, in plain sentences with sums and days, and what each of several plans costs in all.

>>> from cravik.core.pricing.basket import Basket
>>> from cravik.core.pricing.offer import simple_offer
>>> from cravik.core.pricing.quote import quote
>>> from cravik.core.pricing.schedule import Every, InstalmentsPlan
>>> plan, day = InstalmentsPlan(Every(1, "month"), 6), date(2026, 11, 30)
>>> offer = replace(simple_offer("A giant", Money(45000, "EUR")), plan=plan)
>>> schedule_words(plan, quote(offer, Basket(day)), day)
'€75.00 today, then 5 × €75.00 on the 30th of each month, or its last day, the last on 30 Apr 2027; €450.00 in all'
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date
from itertools import groupby
from typing import NamedTuple

from dateutil.relativedelta import relativedelta

from cravik.core.english import day_words, listed
from cravik.core.errors import BasketRefused
from cravik.core.pricing.basket import Basket
from cravik.core.pricing.money import Money, total_of
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import LaterPayment, Quote, quote
from cravik.core.pricing.schedule import (
    ChoicePlan,
    Every,
    InstalmentsPlan,
    RepeatPlan,
    SimplePlan,
)
from cravik.core.pricing.schedule import Plan as AnyPlan
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money

_WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
_LAST_DAY = 31


class InAll(NamedTuple):
    """What a plan costs in all; of one without an end, what its first year costs (``of_a_year``)."""

    amount: Money
    of_a_year: bool = False


class PlanCost(NamedTuple):
    """A plan that a buyer may pick, with what it costs in all, and how much more that is than the ``cheapest`` of
    those with an end; None where they cannot be compared, or it is no more."""

    key: str
    in_all: InAll
    more: Money | None
    cheapest: str


def plan_picked(plan: AnyPlan, key: str | None) -> SimplePlan | None:
    """The plan that holds where the buyer picked the one of that key; None while they have not."""
    return plan.plan(key or "") if isinstance(plan, ChoicePlan) else plan


def schedule_words(plan: SimplePlan, quoted: Quote, start: date, locale: str = DEFAULT_LOCALE) -> str:
    """When a payment of the plan that was bought on ``start`` falls due, from today on, and what it is in all."""
    later = later_words(plan, quoted, start, locale)
    return f"{_sum(quoted.due_now, locale)} today{later}" if later else f"{_sum(quoted.due_now, locale)} once"


def later_words(plan: SimplePlan, quoted: Quote, start: date, locale: str = DEFAULT_LOCALE) -> str:
    """What of it follows ``today``, with the comma or word that it begins with; nothing where nothing is due later."""
    later = list(quoted.schedule)
    if not later:
        return ""
    text, anchor = "", start
    if isinstance(plan, RepeatPlan) and plan.trial:
        first, *later = later
        text, anchor = f", {_sum(first.amount, locale)} on {day_words(first.on)}", first.on
    every = plan.every if isinstance(plan, RepeatPlan | InstalmentsPlan) else None
    has_no_end = isinstance(plan, RepeatPlan) and plan.payments is None
    if isinstance(plan, RepeatPlan) and has_no_end and every:
        # One full payment is told already; what an endless plan lists after its first ones is the same sum again.
        at_first = plan.first.payments - 1 if plan.first else 0
        if at_first > 0 and later:
            text += f", then {_times(at_first, later[0].amount, locale)}"
        lasting = quoted.lasting if quoted.lasting is not None else later[0].amount
        text += f", then {_sum(lasting, locale)} {_rhythm(every, anchor, later)} until it is ended"
    elif len(later) == 1:
        text += f"{', then' if text else ' and'} {_sum(later[0].amount, locale)} on {day_words(later[0].on)}"
    elif every and later:
        text += f", then {_parts(later, locale)} {_rhythm(every, anchor, later)}, the last on {day_words(later[-1].on)}"
    cost = in_all(plan, quoted, start)
    return f"{text}; {format_money(cost.amount, locale)} {'for the first year' if cost.of_a_year else 'in all'}"


def in_all(plan: SimplePlan, quoted: Quote, start: date) -> InAll:
    """What is paid in all, or in the first year of a plan without an end."""
    if not (isinstance(plan, RepeatPlan) and plan.payments is None):
        return InAll(total_of((quoted.due_now, *(payment.amount for payment in quoted.schedule)), quoted.currency))
    first = quoted.schedule[0].on
    first_full = first if plan.trial else start
    end = start + relativedelta(years=1)
    count = 0
    while plan.every.after(first_full, count) < end:
        count += 1
    many = count if plan.trial else count - 1
    at_first = min(many, plan.first.payments - (0 if plan.trial else 1)) if plan.first else 0
    lasting = quoted.lasting if quoted.lasting is not None else quoted.schedule[-1].amount
    amounts = (quoted.due_now, quoted.schedule[0].amount * at_first, lasting * (many - at_first))
    return InAll(total_of(amounts, quoted.currency), of_a_year=True)


def plan_costs(offer: Offer, basket: Basket) -> dict[str, PlanCost]:
    """What each plan that a buyer may pick costs for the basket, by key; a plan that refuses it is left out."""
    if not isinstance(offer.plan, ChoicePlan):
        return {}
    costs: dict[str, InAll] = {}
    for choice in offer.plan.of:
        picks = replace(basket, plan=choice.key, pay_now=None)
        try:
            costs[choice.key] = in_all(choice.plan, quote(offer, picks), basket.on)
        except BasketRefused:
            continue
    return _compared(costs)


def _compared(costs: Mapping[str, InAll]) -> dict[str, PlanCost]:
    ending = {key: cost.amount for key, cost in costs.items() if not cost.of_a_year}
    cheapest = min(ending, key=lambda key: ending[key]) if ending else ""
    return {
        key: PlanCost(
            key,
            cost,
            cost.amount - ending[cheapest] if key in ending and cost.amount > ending[cheapest] else None,
            cheapest,
        )
        for key, cost in costs.items()
    }


def _sum(amount: Money, locale: str) -> str:
    return format_money(amount, locale) if amount else "nothing"


def _parts(payments: Iterable[LaterPayment], locale: str) -> str:
    """Such as ``2 × €33.34 and 3 × €33.33``."""
    groups = [(amount, len(list(same))) for amount, same in groupby(payment.amount for payment in payments)]
    return listed([_times(count, amount, locale) for amount, count in groups], "and")


def _times(count: int, amount: Money, locale: str) -> str:
    return f"{count:,} × {format_money(amount, locale)}" if count > 1 else format_money(amount, locale)


def _rhythm(every: Every, anchor: date, payments: Iterable[LaterPayment]) -> str:
    """Such as ``on the 26th of each month`` or ``every 2 weeks on Thursday``."""
    match every:
        case Every(count=1, unit="month"):
            if anchor.day == _LAST_DAY:
                return "on the last day of each month"
            moved = any(payment.on.day != anchor.day for payment in payments)
            return f"on the {ordinal(anchor.day)} of each month{', or its last day' if moved else ''}"
        case Every(count=1, unit="year"):
            return f"on {anchor.day} {day_words(anchor).split()[1]} each year"
        case Every(unit="week", count=count):
            day = _WEEKDAYS[anchor.weekday()]
            return f"each {day}" if count == 1 else f"every {count} weeks on {day}"
        case Every(count=count, unit=unit):
            return f"each {unit}" if count == 1 else f"every {count} {unit}s"


def ordinal(number: int) -> str:
    """Such as ``1st``, ``22nd`` and ``13th``."""
    ending = {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{'th' if number % 100 in (11, 12, 13) else ending}"
