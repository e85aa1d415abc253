"""Which of several rates is the higher, and whether so many visits can tell.

Two are compared by the interval of their difference that R. G. Newcombe recommends ("Interval estimation for the
difference between independent proportions", Statistics in Medicine 17, 1998, method 10): it is made of Wilson's
intervals and holds for small numbers too. Many are compared at once with the false-discovery rate kept (Y. Benjamini
and Y. Hochberg, "Controlling the false discovery rate", JRSS B 57, 1995): of what is called better, one in twenty may
be wrong, however many were looked at.

>>> from cravik.core.statistics.rates import conversion
>>> [round(bound, 4) for bound in difference(conversion(56, 70), conversion(48, 80))]
[0.0524, 0.3339]
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, erfc, sqrt
from typing import Literal, NamedTuple

from cravik.core.statistics.rates import Rate

#: The rate of wrong verdicts that is accepted, and the chance to see a difference that is there.
WRONG, POWER = 0.05, 0.8
_Z_WRONG, _Z_POWER = 1.959963984540054, 0.8416212335729143
#: More visits than that are not worth waiting for: the two are alike.
MOST_MORE = 100_000


class Interval(NamedTuple):
    """The likely bounds of a difference, at 95 %."""

    low: float
    high: float


def difference(one: Rate, other: Rate) -> Interval:
    """By how much the first rate is likely higher than the second; from −1 to 1."""
    apart = one.share - other.share
    below = sqrt((one.share - one.low) ** 2 + (other.high - other.share) ** 2)
    above = sqrt((one.high - one.share) ** 2 + (other.share - other.low) ** 2)
    return Interval(apart - below, apart + above)


def chance(one: Rate, other: Rate) -> float:
    """The two-sided probability of rates at least so far apart if there were no difference: the score test of two
    proportions with their pooled variance. 1 where nothing tells them apart."""
    paid, of = one.share * one.of + other.share * other.of, one.of + other.of
    if not one.of or not other.of or paid in (0, of):
        return 1.0
    pooled = paid / of
    spread = sqrt(pooled * (1 - pooled) * (1 / one.of + 1 / other.of))
    return erfc(abs(one.share - other.share) / spread / sqrt(2))


def discoveries(chances: Sequence[float], rate: float = WRONG) -> list[bool]:
    """Which of the differences with those probabilities may be called real, with that false-discovery rate.

    >>> discoveries([0.001, 0.02, 0.04, 0.5])
    [True, True, False, False]
    """
    order = sorted(range(len(chances)), key=lambda place: chances[place])
    kept = max((rank for rank, place in enumerate(order, 1) if chances[place] <= rate * rank / len(chances)), default=0)
    found = set(order[:kept])
    return [place in found for place in range(len(chances))]


def more_visits(one: Rate, other: Rate) -> int | None:
    """About how many visits more, to both together, would tell rates like these apart in four cases of five.

    None where they are alike, or more than ``MOST_MORE`` would be needed.

    The usual sample size for two proportions (J. L. Fleiss, "Statistical Methods for Rates and Proportions", 1981).

    >>> from cravik.core.statistics.rates import conversion
    >>> more_visits(conversion(10, 100), conversion(20, 100))
    200
    """
    apart = one.share - other.share
    if apart == 0:
        return None
    mean = (one.share + other.share) / 2
    each = one.share * (1 - one.share) + other.share * (1 - other.share)
    wanted = ceil((_Z_WRONG * sqrt(2 * mean * (1 - mean)) + _Z_POWER * sqrt(each)) ** 2 / apart**2)
    more = max(0, wanted - one.of) + max(0, wanted - other.of)
    return _rounded(more) if more <= MOST_MORE else None


def _rounded(number: int) -> int:
    """Up to two leading figures: more of them would claim too much."""
    step = int(10 ** max(0, len(str(number)) - 2))
    return -(-number // step) * step


@dataclass(frozen=True)
class Verdict:
    """What may be said of the first rate against the second.

    ``says`` is "better" or "worse" where so many visits tell, "too few" where one of them has too few for any rate, and
    else "unclear", with how many ``more`` visits would (None: alike, or not worth waiting for).
    """

    says: Literal["better", "worse", "unclear", "too few"]
    interval: Interval
    more: int | None = None


def verdict(one: Rate, other: Rate, is_discovery: bool = True) -> Verdict:
    """The first rate against the second; ``is_discovery`` is False where it is one of many, and did not stand out."""
    apart = difference(one, other)
    if not one.tells or not other.tells:
        return Verdict("too few", apart)
    if is_discovery and apart.low > 0:
        return Verdict("better", apart)
    if is_discovery and apart.high < 0:
        return Verdict("worse", apart)
    return Verdict("unclear", apart, more_visits(one, other))


def against(first: Rate, others: Sequence[Rate]) -> list[Verdict]:
    """The first rate against each of the others, with the false-discovery rate kept over all that have enough visits.

    >>> from cravik.core.statistics.rates import conversion
    >>> others = [conversion(20, 300), conversion(55, 300), conversion(0, 3)]
    >>> [each.says for each in against(conversion(60, 300), others)]
    ['better', 'unclear', 'too few']
    """
    judged = [place for place, other in enumerate(others) if first.tells and other.tells]
    found = dict(zip(judged, discoveries([chance(first, others[place]) for place in judged]), strict=True))
    return [verdict(first, other, found.get(place, False)) for place, other in enumerate(others)]
