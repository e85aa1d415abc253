"""The ladder: how far the visits to a link got.

>>> Ladder.of_furthest({Rung.OPENED: 6, Rung.TRIED: 1, Rung.PAID: 3})
Ladder(opened=10, started=4, tried=4, paid=3)
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import IntEnum


class Rung(IntEnum):
    """How far one visit got. Each rung includes those below it."""

    OPENED = 1
    STARTED = 2
    TRIED = 3
    PAID = 4


@dataclass(frozen=True)
class Ladder:
    """How many visits reached each rung; never more on a higher one."""

    opened: int = 0
    started: int = 0
    tried: int = 0
    paid: int = 0

    @classmethod
    def of_furthest(cls, visits: Mapping[int, int]) -> Ladder:
        """From the number of visits by the furthest rung that each reached."""
        reached = [sum(count for rung, count in visits.items() if rung >= least) for least in Rung]
        return cls(*reached)
