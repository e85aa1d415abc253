"""Where visits stop on a page: at each field the share of those who came to it that filled in nothing after it and
never tried to pay, and which of these shares stand out from the rest.

Each is held against all the others together by the score test, with the false-discovery rate kept over all (see
``comparisons``), so that a long page doesn't find a culprit by luck.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cravik.core.statistics.comparisons import chance, difference, discoveries
from cravik.core.statistics.rates import Rate, conversion


@dataclass(frozen=True)
class Stop:
    """A field, and how many visits came to it, left it blank, had it refused, and stopped at it.

    It ``may_go`` if its seller can leave it out; it is ``fixed`` if nothing about it is theirs to change.
    """

    label: str
    may_go: bool = False
    fixed: bool = False
    is_required: bool = True
    reached: int = 0
    blank: int = 0
    refused: int = 0
    stopped: int = 0

    @property
    def rate(self) -> Rate:
        """The share of those who came to it that stopped here."""
        return conversion(min(self.stopped, self.reached), self.reached)

    @property
    def refusals(self) -> Rate:
        """The share of those who came to it that had it refused."""
        return conversion(min(self.refused, self.reached), self.reached)


def standing_out(rates: Sequence[Rate]) -> list[bool]:
    """Which of the rates are higher than all the others together; those with too few visits never are.

    >>> standing_out([conversion(2, 100), conversion(3, 98), conversion(25, 95), conversion(1, 3)])
    [False, False, True, False]
    """
    judged = [place for place, rate in enumerate(rates) if rate.tells]
    rest = {place: _together([rates[other] for other in judged if other != place]) for place in judged}
    found = discoveries([chance(rates[place], rest[place]) for place in judged])
    higher = {place for place, is_found in zip(judged, found, strict=True) if is_found}
    return [place in higher and difference(rates[place], rest[place]).low > 0 for place in range(len(rates))]


def pooled(stops: Sequence[Stop], without: Stop) -> Rate:
    """The share that stopped at any of the others, of all that came to one."""
    return _together([stop.rate for stop in stops if stop is not without])


def _together(rates: Sequence[Rate]) -> Rate:
    return conversion(sum(round(rate.share * rate.of) for rate in rates), sum(rate.of for rate in rates))
