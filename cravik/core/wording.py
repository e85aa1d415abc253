"""Small pieces of English that the sentence, the advice and the explanation share.

>>> listed(["red", "blue", "green"], "or"), counted(1, "country", "countries"), counted(6, "country", "countries")
('red, blue or green', '1 country', '6 countries')
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime

from babel import Locale

from cravik.core.schedule import DepositPlan, Every, InstalmentsPlan, OncePlan, RepeatPlan, SimplePlan


def listed(words: Sequence[str], last: str) -> str:
    """``words`` with commas, and ``last`` before the last of them."""
    return f" {last} ".join(filter(None, (", ".join(words[:-1]), *words[-1:])))


def counted(number: int, one: str, more: str) -> str:
    return f"{number:,} {one if number == 1 else more}"


def day_words(day: date) -> str:
    """Such as ``31 December 2026``."""
    return f"{day.day} {day:%B} {day.year}"


def instant_words(instant: datetime) -> str:
    """Such as ``31 December 2026, 18:00 (UTC+01:00)``: with its offset, so that nobody guesses."""
    return f"{day_words(instant.date())}, {instant:%H:%M} ({instant.tzinfo or 'UTC'})"


def every_words(every: Every) -> str:
    """Such as ``every month`` or ``every 2 weeks``."""
    return f"every {every.unit}" if every.count == 1 else f"every {every.count} {every.unit}s"


def country_words(code: str) -> str:
    """The country's English name, or its code where CLDR has none."""
    return str(Locale("en").territories.get(code, code))


def plan_words(plan: SimplePlan, deposit: str) -> str:
    """When it is paid, such as ``every month, 12 times``; ``deposit`` is the deposit's sum in figures."""
    match plan:
        case OncePlan():
            return "once"
        case InstalmentsPlan(every=every, payments=payments):
            return f"in {counted(payments, 'part', 'equal parts')}, {every_words(every)}"
        case DepositPlan(rest_after_days=days, buyer_may_pay_more=more):
            return f"{'at least ' if more else ''}{deposit} now and the rest after {counted(days, 'day', 'days')}"
        case RepeatPlan(every=every, payments=payments, trial_days=trial):
            end = "until somebody ends it" if payments is None else counted(payments, "time", "times")
            start = f", the first time after {counted(trial, 'day', 'days')}" if trial else ""
            return f"{every_words(every)} {end}{start}" if payments is None else f"{every_words(every)}, {end}{start}"
