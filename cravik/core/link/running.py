"""What is paid over time: how a due is collected that was declined, and what a buyer may do of what runs.

>>> next_try(date(2026, 3, 31), date(2026, 3, 31), (2, 5, 9))
datetime.date(2026, 4, 2)
>>> next_try(date(2026, 3, 31), date(2026, 4, 9), (2, 5, 9)) is None
True
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

#: The most that a seller may say: tries, and days after the first of them.
MAX_TRIES, MAX_TRY_DAYS = 6, 60
#: How many days before a payment its buyer may be told of it, at most.
MAX_TELL_DAYS = 30

Stops = Literal["now", "period", "ask"]
Then = Literal["pause", "end"]


@dataclass(frozen=True, slots=True)
class RunningRules:
    """What holds for what one buyer agreed to.

    ``tries_after``: how many days after its first try a declined due is tried again, in ascending order; ``then``, what
    becomes of what repeats if the last came to nothing. ``stops``: whether a buyer who stops it does so at once, at the
    end of what is paid, or by asking. ``tell_days``: how long before a trial ends, or a rest is due, they are told.
    ``rest_is_charged``: a deposit's rest is taken by itself, or only asked for. ``takes_each_time``: each payment of
    what repeats takes its pieces out of stock, or only the first.
    """

    tries_after: tuple[int, ...] = (2, 5, 9)
    then: Then = "pause"
    stops: Stops = "period"
    may_skip: bool = False
    may_pause: bool = False
    rest_is_charged: bool = True
    tell_days: int = 3
    takes_each_time: bool = False


USUAL_RULES = RunningRules()


def next_try(first: date, today: date, tries_after: Sequence[int]) -> date | None:
    """When a due is tried again that was tried first on ``first`` and declined on ``today``; None where that was the
    last time."""
    return next((day for day in _days_of_tries(first, tries_after) if day > today), None)


def last_try(first: date, tries_after: Sequence[int]) -> date:
    """The last day on which a due counts as being collected that was tried first on ``first``."""
    return max(_days_of_tries(first, tries_after), default=first)


def _days_of_tries(first: date, tries_after: Sequence[int]) -> list[date]:
    return [first + timedelta(days=days) for days in tries_after]
