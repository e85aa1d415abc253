"""When it is paid, as it is said: the sentence's words, and shorter ones.

>>> scan = Scanner("in 6 monthly instalments", "EUR")
>>> next(plans(scan, 0))[0]
InstalmentsPlan(every=Every(count=1, unit='month'), payments=6)
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from typing import cast

from cravik.core.errors import CoreError
from cravik.core.pricing.percent import WHOLE, Percent
from cravik.core.pricing.schedule import (
    ONCE,
    DepositPlan,
    Every,
    InstalmentsPlan,
    RepeatPlan,
    SimplePlan,
    Unit,
)
from cravik.core.text.parsing.days import read_day
from cravik.core.text.parsing.scanner import Scanner, once_a_place

_UNITS = {"day": "day", "daily": "day", "week": "week", "weekly": "week", "month": "month", "monthly": "month"} | {
    "year": "year",
    "yearly": "year",
    "annually": "year",
}
_ONCE = re.compile(r"(?:paid |all )?(?:once|at once)\b")
_PARTS = re.compile(
    r"(?:paid |payable )?in (\d{1,4}) (?:(monthly|weekly|yearly|daily) )?(?:equal )?(?:parts?|instalments?|payments?)\b"
    r"(?:,? (?:every (?:(\d{1,4}) )?(day|week|month|year)s?|(monthly|weekly|yearly|daily))\b)?"
)
_STEPS = re.compile(
    r"(?:paid |payable )?(?:every (?:(\d{1,4}) )?(day|week|month|year)s?\b|(?:a|per|each) (day|week|month|year)\b"
    r"|(monthly|weekly|yearly|daily|annually)\b)"
)
_ENDLESS = re.compile(r",? (?:until (?:cancelled|somebody ends it)|until it is ended|without an end)")
_TIMES = re.compile(r",? (?:for )?(\d{1,4}) (?:times?|payments)\b")
_LONG = re.compile(r",? for (\d{1,4}) (day|week|month|year)s?\b")
_TRIAL = re.compile(
    r", the first time after (?P<after>\d{1,4}) (?P<after_unit>day|month)s?"
    r"|,? (?:after|with) (?:a trial of )?(?P<trial>\d{1,4}) (?:trial )?(?P<trial_unit>day|month)s?(?: of trial)?\b"
    r"|,? (?P<free>\d{1,4}) (?P<free_unit>day|month)s? free\b"
)
_DEPOSIT = re.compile(r"(?:paid |with )?(?:(at least) )?(?:a )?(?:deposit (?:of )?)?")
_PERCENT = re.compile(r"(\d{1,3}(?:[.,]\d{1,4})?)\s?%")
_NOW = re.compile(
    r"(?: deposit| now)?,? (?:and )?the rest (?:(?:after|in) (\d{1,4}) days?\b|on (\d{1,2} [A-Z][a-z]+ \d{4}))"
)
_MAX_DAYS, _MAX_MONTHS, _MAX_PAYMENTS, _MAX_COUNT, _MAX_YEARS = 3650, 120, 1200, 1000, 100
_A_YEAR = {"day": 365, "week": 52, "month": 12, "year": 1}


@once_a_place
def plans(scan: Scanner, at: int) -> Iterator[tuple[SimplePlan, int]]:
    """Every way to read a plan at the place."""
    yield from _instalments(scan, at)
    yield from _deposit(scan, at)
    yield from _repeat(scan, at)
    for _, end in scan.take(_ONCE, at):
        yield ONCE, end


def steps(scan: Scanner, at: int) -> Iterator[tuple[RepeatPlan, int]]:
    """How often alone, such as ``a month``."""
    for found, end in scan.take(_STEPS, at):
        every = _every(found[1], found[2] or found[3] or found[4])
        if _can_be(every, None):
            yield RepeatPlan(every), end


def _every(count: str | None, word: str) -> Every:
    return Every(int(count or 1), cast(Unit, _UNITS[word]))


def _can_be(every: Every, payments: int | None, trial: Every | None = None) -> bool:
    if not 1 <= every.count <= _MAX_COUNT:
        return False
    if trial and trial.count > (_MAX_MONTHS if trial.unit == "month" else _MAX_DAYS):
        return False
    many = payments if payments is not None else 1
    return 1 <= many <= _MAX_PAYMENTS and every.count * many <= _MAX_YEARS * _A_YEAR[every.unit]


def _instalments(scan: Scanner, at: int) -> Iterator[tuple[SimplePlan, int]]:
    for found, end in scan.take(_PARTS, at):
        payments, before, count, unit, after = found.groups()
        every = _every(count, before or unit or after or "month")
        if _can_be(every, int(payments)):
            yield InstalmentsPlan(every, int(payments)), end


def _repeat(scan: Scanner, at: int) -> Iterator[tuple[SimplePlan, int]]:
    for found, end in scan.take(_STEPS, at):
        plan = RepeatPlan(_every(found[1], found[2] or found[3] or found[4]))
        yield from ended(scan, plan, end)
        if _can_be(plan.every, None):
            yield plan, end


def ended(scan: Scanner, plan: RepeatPlan, at: int) -> Iterator[tuple[RepeatPlan, int]]:
    """The plan with what is said after it of its end or its trial."""
    for payments, end in _ending(scan, plan.every, at):
        for trial, last in _trial(scan, end):
            if last > at and _can_be(plan.every, payments, trial):
                days = trial.count if trial and trial.unit == "day" else 0
                months = trial.count if trial and trial.unit == "month" else 0
                yield RepeatPlan(plan.every, payments, days, months), last


def _ending(scan: Scanner, every: Every, at: int) -> Iterator[tuple[int | None, int]]:
    """How many payments there are; None: until it is ended."""
    for found, end in scan.take(_TIMES, at):
        yield int(found[1]), end
    for found, end in scan.take(_LONG, at):
        if found[2] == every.unit and int(found[1]) % every.count == 0:
            yield int(found[1]) // every.count, end
    for _, end in scan.take(_ENDLESS, at):
        yield None, end
    yield None, at


def _trial(scan: Scanner, at: int) -> Iterator[tuple[Every | None, int]]:
    for found, end in scan.take(_TRIAL, at):
        count, unit = next((found[name], found[f"{name}_unit"]) for name in ("after", "trial", "free") if found[name])
        yield (Every(int(count), cast(Unit, unit)) if int(count) else None), end
    yield None, at


def _deposit(scan: Scanner, at: int) -> Iterator[tuple[SimplePlan, int]]:
    for found, end in scan.take(_DEPOSIT, at):
        more = bool(found[1])
        for share, last in scan.take(_PERCENT, end):
            percent = _percent(share[1])
            for rest, last in _rest(scan, last):
                if percent:
                    yield replace(rest, percent=percent, buyer_may_pay_more=more), last
        for amount, last in scan.amount(end):
            for rest, last in _rest(scan, last):
                yield replace(rest, amount=amount, buyer_may_pay_more=more), last


def _rest(scan: Scanner, at: int) -> Iterator[tuple[DepositPlan, int]]:
    """When the rest is due: after so many days, or on a day."""
    for found, end in scan.take(_NOW, at):
        if found[1] and int(found[1]) <= _MAX_DAYS:
            yield DepositPlan(int(found[1])), end
        elif found[2] and (day := read_day(found[2])):
            yield DepositPlan(rest_on=day), end


def _percent(text: str) -> Percent | None:
    try:
        percent = Percent.parse(text.replace(",", "."))
    except CoreError:
        return None
    return percent if percent.ten_thousandths <= WHOLE else None
