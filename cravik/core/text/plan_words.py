"""A plan of payments, in words.

>>> every_words(Every(2, "week"))
'every 2 weeks'
"""

from __future__ import annotations

from collections.abc import Mapping

from cravik.core.english import counted, day_words, listed
from cravik.core.pricing.money import Money
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.schedule import DepositPlan, Every, InstalmentsPlan, OncePlan, RepeatPlan, SimplePlan
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money


def every_words(every: Every) -> str:
    """Such as ``every month`` or ``every 2 weeks``."""
    return f"every {every.unit}" if every.count == 1 else f"every {every.count} {every.unit}s"


def plan_words(plan: SimplePlan, locale: str = DEFAULT_LOCALE) -> str:
    """When it is paid, such as ``every month, 12 times``."""
    match plan:
        case OncePlan():
            return "once"
        case InstalmentsPlan(every=every, payments=payments):
            return f"in {counted(payments, 'part', 'equal parts')}, {every_words(every)}"
        case DepositPlan(buyer_may_pay_more=more):
            now = f"{'at least ' if more else ''}{_deposit(plan, locale)} now"
            return f"{now} and the rest {rest_words(plan)}"
        case RepeatPlan(every=every, payments=payments, trial=trial):
            end = "until cancelled" if payments is None else counted(payments, "time", "times")
            start = f", the first time after {span_words(trial)}" if trial else ""
            return f"{every_words(every)} {end}{start}" if payments is None else f"{every_words(every)}, {end}{start}"


def span_words(span: Every) -> str:
    """Such as ``14 days`` or ``1 month``."""
    return counted(span.count, span.unit, f"{span.unit}s")


def rest_words(plan: DepositPlan) -> str:
    """When the rest is due, such as ``after 30 days`` or ``on 1 Mar 2027``."""
    return (
        f"on {day_words(plan.rest_on)}"
        if plan.rest_on
        else f"after {span_words(Every(plan.rest_after_days or 0, 'day'))}"
    )


def first_words(plan: SimplePlan, names: Mapping[str, str], locale: str = DEFAULT_LOCALE) -> str:
    """What the first payments cost, such as ``the first 3 payments at €5.00``; each by the name of its thing where
    there are several (``names`` by the lines' keys). Nothing where they cost what the others do."""
    if not isinstance(plan, RepeatPlan) or plan.first is None:
        return ""
    many = plan.first.payments
    which = "the first payment" if many == 1 else f"the first {many:,} payments"
    return f"{which} at {own_prices_words(plan.first.prices, names, locale)}"


def own_prices_words(prices: Mapping[str, FixedPrice], names: Mapping[str, str], locale: str = DEFAULT_LOCALE) -> str:
    """Prices that hold instead of the lines' own, such as ``€11.00 for the club and €5.00 for the tail``."""
    sums = [
        _figures(price.amount, locale) + (f" for {names.get(key) or key}" if len(names) > 1 else "")
        for key, price in prices.items()
    ]
    return listed(sums, "and")


def _figures(amount: Money, locale: str) -> str:
    figures = format_money(amount, locale)
    return figures if amount else f"nothing ({figures})"


def _deposit(plan: DepositPlan, locale: str) -> str:
    if plan.percent:
        return f"{plan.percent.text} %"
    return format_money(plan.amount, locale) if plan.amount is not None else ""
