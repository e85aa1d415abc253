"""Which daily archives stay: the newest of each of the last so many days, weeks and months that have one."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True)
class Rule:
    """How many days, weeks and months are kept; no ``days``: all are."""

    days: int
    weeks: int
    months: int


def spared(taken: Iterable[datetime], rule: Rule) -> set[datetime]:
    """Those of ``taken`` that stay. Days without an archive do not count, so nothing goes while none is taken.

    >>> days = [datetime(2026, month, day) for month in (2, 3) for day in range(1, 29)]
    >>> [f"{each:%d.%m.}" for each in sorted(spared(days, Rule(3, 3, 2)))]
    ['28.02.', '15.03.', '22.03.', '26.03.', '27.03.', '28.03.']
    """
    newest_first = sorted(taken, reverse=True)
    if not rule.days:
        return set(newest_first)
    periods: list[tuple[int, Callable[[datetime], Hashable]]] = [
        (rule.days, lambda at: at.date()),
        (rule.weeks, lambda at: at.isocalendar()[:2]),
        (rule.months, lambda at: (at.year, at.month)),
    ]
    kept: set[datetime] = set()
    for number, period in periods:
        newest_of: dict[Hashable, datetime] = {}
        for at in newest_first:
            newest_of.setdefault(period(at), at)
        kept.update(list(newest_of.values())[:number])
    return kept
