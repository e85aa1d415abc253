"""A plan of payments, in words.

>>> every_words(Every(2, "week"))
'every 2 weeks'
"""

from __future__ import annotations

from cravik.core.english import counted
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
        case DepositPlan(rest_after_days=days, buyer_may_pay_more=more):
            now = f"{'at least ' if more else ''}{_deposit(plan, locale)} now"
            return f"{now} and the rest after {counted(days, 'day', 'days')}"
        case RepeatPlan(every=every, payments=payments, trial_days=trial):
            end = "until somebody ends it" if payments is None else counted(payments, "time", "times")
            start = f", the first time after {counted(trial, 'day', 'days')}" if trial else ""
            return f"{every_words(every)} {end}{start}" if payments is None else f"{every_words(every)}, {end}{start}"


def _deposit(plan: DepositPlan, locale: str) -> str:
    if plan.percent:
        return f"{plan.percent.text} %"
    return format_money(plan.amount, locale) if plan.amount is not None else ""
