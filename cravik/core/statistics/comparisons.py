"""Which of several rates is the higher, and whether so many visits can tell.

Two are compared by the interval of their difference that R. G. Newcombe recommends ("Interval estimation for the
difference between independent proportions", Statistics in Medicine 17, 1998, method 10): it is made of Wilson's
intervals and holds for small numbers too.

The first of several is picked from the very data that it is then compared by, and the highest of many alike looks
better than it is. So all differences are bounded at once: the normal deviate of the intervals is that of the range of
so many values (Tukey's all-pairs comparisons; for rates, A. Donner and G. Y. Zou, "Estimating simultaneous confidence
intervals for multiple contrasts of proportions by the method of variance estimates recovery", Statistics in
Biopharmaceutical Research 3, 2011). Of the looks at rows that are all alike, at most about one in twenty calls any of
them less than another, however many they are. With two, it is Newcombe's interval at 95 %.

Which of a page's fields stand out is judged with the false-discovery rate kept (Y. Benjamini and Y. Hochberg,
"Controlling the false discovery rate", JRSS B 57, 1995).

>>> from cravik.core.statistics.rates import conversion
>>> [round(bound, 4) for bound in difference(conversion(56, 70), conversion(48, 80))]
[0.0524, 0.3339]
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, erfc, exp, hypot, pi, sqrt
from typing import Literal, NamedTuple

from cravik.core.statistics.rates import Rate, wilson
from cravik.core.statistics.studentized_range import normal, upper_range

#: The rate of wrong verdicts that is accepted, and the chance with which so many more visits are to tell: a little more
#: than four in five, since what is worked out for many rows holds about.
WRONG, POWER = 0.05, 0.82
#: More visits than that, or than so many times those that there are, are not worth waiting for: the rates are as good
#: as equal.
MOST_MORE, MOST_TIMES = 100_000, 50
#: In how many steps, over how many deviations, chances are added up.
_SPAN, _STEPS = 5.0, 60
#: How close a number of visits is worked out, as a ratio.
_CLOSE = 1.02


class Interval(NamedTuple):
    """The likely bounds of a difference."""

    low: float
    high: float


def deviate(count: int) -> float:
    """The normal deviate by which all differences among ``count`` rates are bounded at once.

    >>> [round(deviate(count), 2) for count in (1, 2, 5, 20)]
    [1.96, 1.96, 2.73, 3.54]
    """
    return upper_range(max(2, count), WRONG) / sqrt(2)


def difference(one: Rate, other: Rate, among: int = 2) -> Interval:
    """By how much the first rate is likely higher than the second, as one of all differences ``among`` so many rates;
    from −1 to 1."""
    z = deviate(among)
    return Interval(*_apart((one.share, one.of), (other.share, other.of), z)) if one.of and other.of else _ANY


_ANY = Interval(-1.0, 1.0)


def _apart(one: tuple[float, float], other: tuple[float, float], z: float) -> tuple[float, float]:
    (share, of), (share_of_other, of_other) = one, other
    low, high = wilson(share, of, z)
    low_of_other, high_of_other = wilson(share_of_other, of_other, z)
    apart = share - share_of_other
    below = sqrt((share - low) ** 2 + (high_of_other - share_of_other) ** 2)
    above = sqrt((high - share) ** 2 + (share_of_other - low_of_other) ** 2)
    return apart - below, apart + above


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


@dataclass(frozen=True)
class Verdict:
    """What may be said of the first rate against the second.

    ``says`` is "better" or "worse" where so many visits tell, "too few" where one of them has too few for any rate, and
    else "unclear", with how many ``more`` visits would tell, over all rows as they come now (None: the two are as good
    as equal).
    """

    says: Literal["better", "worse", "unclear", "too few"]
    interval: Interval
    more: int | None = None


def verdict(one: Rate, other: Rate) -> Verdict:
    """The first of two rates against the second, neither of them picked for being high or low."""
    return against(one, [other])[0]


def against(first: Rate, others: Sequence[Rate]) -> list[Verdict]:
    """The first rate against each of the others, whichever of them all was picked to be the first.

    >>> from cravik.core.statistics.rates import conversion
    >>> others = [conversion(20, 300), conversion(55, 300), conversion(0, 3)]
    >>> [each.says for each in against(conversion(60, 300), others)]
    ['better', 'unclear', 'too few']
    """
    among, visits = _judged(first, others), sum(rate.of for rate in (first, *others))
    return [_verdict(first, other, among, visits) for other in others]


def _judged(first: Rate, others: Sequence[Rate]) -> int:
    """How many rates are compared at once: those with enough visits."""
    return sum(rate.tells for rate in (first, *others))


def _verdict(first: Rate, other: Rate, among: int, visits: int) -> Verdict:
    apart = difference(first, other, among)
    if not first.tells or not other.tells:
        return Verdict("too few", apart)
    if apart.low > 0:
        return Verdict("better", apart)
    if apart.high < 0:
        return Verdict("worse", apart)
    higher, lower = (first, other) if first.share >= other.share else (other, first)
    return Verdict("unclear", apart, _more(higher, [lower], among, visits))


def level(one: Rate, other: Rate) -> bool:
    """Whether the two shares are the very same."""
    return one.happened * other.of == other.happened * one.of


def more_visits(first: Rate, others: Sequence[Rate]) -> int | None:
    """About how many visits more, over all rows as they come now, would tell the first from all others that have enough
    visits, in four cases of five, if the rates stay as they are.

    None where some are as good as equal. The chance is that of the very intervals that will judge: of the first rate's
    value on, those of the others are independent.

    >>> from cravik.core.statistics.rates import conversion
    >>> more_visits(conversion(20, 100), [conversion(10, 100)])
    130
    """
    telling = [rate for rate in others if rate.tells]
    visits = sum(rate.of for rate in (first, *others))
    return _more(first, telling, _judged(first, others), visits)


def _more(first: Rate, others: Sequence[Rate], among: int, visits: int) -> int | None:
    most, z = min(MOST_MORE, MOST_TIMES * visits), deviate(among)
    if not others or any(first.share <= rate.share for rate in others):
        return None
    if _power(first, others, z, most / visits) < POWER:
        return None
    low, high = 1.0, float(most)
    while high > low * _CLOSE:  # halved by their ratio: what is looked for may be ten or ten thousand
        middle = sqrt(low * high)
        low, high = (low, middle) if _power(first, others, z, middle / visits) >= POWER else (middle, high)
    return _rounded(ceil(high))


def _power(first: Rate, others: Sequence[Rate], z: float, times: float) -> float:
    """The chance that the first is told from all of the others by as many visits more as ``times`` those that there
    are: what was seen stays, and what comes varies."""
    grown = 1 + times
    spreads = [max(_spread(rate, times), 1e-9) for rate in others]
    # By how much each of them is on the right side of its bound, at the values that are expected.
    clear = [_apart((first.share, first.of * grown), (rate.share, rate.of * grown), z)[0] for rate in others]
    own = _spread(first, times)
    if len(others) == 1:
        return normal(clear[0] / hypot(own, spreads[0]))
    total, step = 0.0, 2 * _SPAN / _STEPS
    for place in range(_STEPS + 1):
        at = place * step - _SPAN
        chance_of_all = 1.0
        for margin, spread in zip(clear, spreads, strict=True):
            chance_of_all *= normal((margin + own * at) / spread)
        total += chance_of_all * exp(-at * at / 2) * step / sqrt(2 * pi)
    return total


def _spread(rate: Rate, times: float) -> float:
    """How much the share of what was seen and of ``times`` as much again varies."""
    return sqrt(rate.share * (1 - rate.share) * times / rate.of) / (1 + times)


def _rounded(number: int) -> int:
    """Up to two leading figures: more of them would claim too much."""
    step = int(10 ** max(0, len(str(number)) - 2))
    return -(-number // step) * step
