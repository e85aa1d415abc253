"""What is expected by month of payments that were agreed to.

>>> sums = [(date(2026, 12, 9), 500, True), (date(2027, 1, 2), 700, False)]
>>> [(each.taken.major, each.asked.major) for each in by_month(sums, "EUR", date(2026, 12, 1), 2)]
[('5.00', '0.00'), ('0.00', '7.00')]
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date

from dateutil.relativedelta import relativedelta

from cravik.core.pricing.money import Money


@dataclass(frozen=True)
class ExpectedMonth:
    """A month by its first day: what is taken by itself in it, and what is only asked for."""

    month: date
    taken: Money
    asked: Money

    @property
    def total(self) -> Money:
        return self.taken + self.asked


def by_month(
    sums: Iterable[tuple[date, int, bool]], currency: str, first: date, months: int
) -> tuple[ExpectedMonth, ...]:
    """``sums`` (day, minor units, whether it is taken by itself) in each of so many months from that of ``first`` on;
    what was due before counts in the first."""
    firsts = list(_months(first, months))
    taken, asked = dict.fromkeys(firsts, 0), dict.fromkeys(firsts, 0)
    for day, minor, is_taken in sums:
        month = max(day.replace(day=1), firsts[0])
        if month in taken:
            (taken if is_taken else asked)[month] += minor
    return tuple(ExpectedMonth(each, Money(taken[each], currency), Money(asked[each], currency)) for each in firsts)


def _months(first: date, count: int) -> Iterator[date]:
    month = first.replace(day=1)
    for _ in range(count):
        yield month
        month += relativedelta(months=1)
