"""How long it took from opening a page to paying: counts by steps of time, and the median that they let one read.

Counts can be added up over days, single times cannot. The median is read between the bounds of its step as if times
lay evenly on a logarithmic scale (the usual median of grouped data), so it is said as "about".

>>> pace = Pace((4, 10, 25, 12, 3, 0, 0), of=54)
>>> round(pace.median)
86
>>> Pace((0, 0, 0, 0, 0, 0, 0), of=2).median
inf
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, log

#: The upper bounds of the steps, in seconds; what took longer is in ``of`` alone.
BOUNDS = (30, 60, 120, 300, 900, 3600, 86400)
_LEAST = 10


@dataclass(frozen=True)
class Pace:
    """How many took up to each of the bounds and longer than the one before, and how many there were ``of`` all."""

    counts: tuple[int, ...] = (0,) * len(BOUNDS)
    of: int = 0

    @property
    def median(self) -> float | None:
        """In seconds; None where there was none, infinite where it took most more than the last bound."""
        if not self.of:
            return None
        half, below = self.of / 2, 0
        for count, low, high in zip(self.counts, (_LEAST, *BOUNDS), BOUNDS, strict=False):
            if below + count >= half:
                return exp(log(low) + (log(high) - log(low)) * (half - below) / count)
            below += count
        return float("inf")
