"""How long those stay who pay again and again: the product-limit estimate with its interval.

E. L. Kaplan and P. Meier, "Nonparametric estimation from incomplete observations", JASA 53 (1958); the variance is
Greenwood's, and the interval that of log(−log S) at 95 % (J. D. Kalbfleisch and R. L. Prentice, 1980), which stays
inside 0–1. Whoever stays still, or has paid all there was, is *censored*: they are known to have stayed at least as
long. These are statistics, not money, so floating point is right here.

>>> stayed = [Stay(days, ended) for days, ended in ((10, True), (20, False), (30, True), (40, False))]
>>> [(step.days, round(step.share, 3), step.at_risk) for step in staying(stayed).steps]
[(10, 0.75, 4), (30, 0.375, 2)]
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log, sqrt

#: Below this many who began, or this many who ended, nothing is drawn.
MIN_BEGUN, MIN_ENDED = 20, 5
_Z_95 = 1.959963984540054


@dataclass(frozen=True, slots=True)
class Stay:
    """How many days somebody stayed; whether they have ``ended``, or are known to have stayed at least so long."""

    days: int
    ended: bool


@dataclass(frozen=True, slots=True)
class Step:
    """After so many ``days`` (some ended on that one), the share that stays, with its bounds; ``at_risk`` were there
    just before."""

    days: int
    share: float
    low: float
    high: float
    at_risk: int


@dataclass(frozen=True)
class Staying:
    """The curve of those who began, ``begun`` in all, of whom ``ended`` have."""

    steps: tuple[Step, ...]
    begun: int
    ended: int
    #: How long the one who is known longest has stayed.
    longest: int

    @property
    def tells(self) -> bool:
        """False where there are too few to say anything."""
        return self.begun >= MIN_BEGUN and self.ended >= MIN_ENDED

    def at(self, days: int) -> Step:
        """The share that stays after so many days."""
        before = [step for step in self.steps if step.days <= days]
        return before[-1] if before else Step(0, 1.0, 1.0, 1.0, self.begun)

    @property
    def half(self) -> int | None:
        """After how many days half have gone; None where they have not."""
        return next((step.days for step in self.steps if step.share <= 0.5), None)


def staying(stays: Sequence[Stay]) -> Staying:
    """The estimate. Whoever is censored on the day on which another ends was there until after it."""
    ends = sorted({stay.days for stay in stays if stay.ended})
    share, variance, steps = 1.0, 0.0, []
    for days in ends:
        at_risk = sum(stay.days >= days for stay in stays)
        gone = sum(stay.ended and stay.days == days for stay in stays)
        share *= 1 - gone / at_risk
        if at_risk > gone:
            variance += gone / (at_risk * (at_risk - gone))
        steps.append(Step(days, share, *_bounds(share, variance), at_risk))
    longest = max((stay.days for stay in stays), default=0)
    return Staying(tuple(steps), len(stays), sum(stay.ended for stay in stays), longest)


def _bounds(share: float, variance: float) -> tuple[float, float]:
    """Of the share, by log(−log); of none who stays, and of all, nothing can be said that way."""
    if share <= 0.0:
        return 0.0, 0.0
    if share >= 1.0:
        return 1.0, 1.0
    reach = _Z_95 * sqrt(variance) / abs(log(share))
    return share ** exp(reach), share ** exp(-reach)
