"""How long it took from opening a page to paying: counts by steps of time, and the median that they let one read.

Counts can be added up over days, single times cannot. The median is read between the bounds of its step as if times
lay evenly on a logarithmic scale (the usual median of grouped data), so it is said as "about".

>>> pace = Pace((4, 10, 25, 12, 3, 0, 0), of=54)
>>> round(pace.median)
86
>>> pace.words, Pace((0, 0, 0, 0, 0, 0, 0), of=2).words
('about a minute and a half', 'more than a day')
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, log

from cravik.core.english import counted

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

    @property
    def words(self) -> str:
        """The median as one says it; nothing where there was none."""
        return "" if self.median is None else duration_words(self.median)


def duration_words(seconds: float) -> str:
    """About how long that is.

    >>> [duration_words(each) for each in (12, 47, 170, 620, 5000, 80000)]
    ['about 10 seconds', 'about 45 seconds', 'about 3 minutes', 'about 10 minutes', 'about an hour', 'about 22 hours']
    """
    if seconds > BOUNDS[-1]:
        return "more than a day"
    if seconds < 55:
        return f"about {counted(max(5, 5 * round(seconds / 5)), 'second', 'seconds')}"
    if seconds < 105:
        return "about a minute" if seconds < 75 else "about a minute and a half"
    if seconds < 3300:
        return f"about {counted(round(seconds / 60), 'minute', 'minutes')}"
    hours = round(seconds / 3600)
    return "about an hour" if hours == 1 else f"about {hours} hours"
