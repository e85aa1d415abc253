"""Options of a line, such as size and colour: what they add to its price and weight.

>>> span = OptionGroup("Span", (Option("1.2 m", add=Money(-600, "EUR")), Option("1.8 m", weight_g=80)))
>>> adds_of([span.option("1.2 m")]), span.option("2 m")
(-600, None)
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from cravik.core.pricing.money import Money


@dataclass(frozen=True, slots=True)
class Option:
    """One option; ``add`` (signed, absent is nothing) goes onto the unit price, ``weight_g`` onto the weight."""

    name: str
    add: Money | None = None
    weight_g: int = 0


@dataclass(frozen=True, slots=True)
class OptionGroup:
    """A group of 1 to 24 options, of which the buyer picks one."""

    name: str
    options: tuple[Option, ...]

    def option(self, name: str | None) -> Option | None:
        return next((option for option in self.options if option.name == name), None)


def adds_of(options: Iterable[Option]) -> int:
    """The sum that ``options`` add to a unit, in minor units."""
    return sum(option.add.minor for option in options if option.add)


def weight_of(options: Iterable[Option]) -> int:
    """The sum that ``options`` add to a unit's weight, in grams."""
    return sum(option.weight_g for option in options)


def least_adds(choices: Iterable[OptionGroup]) -> int:
    """The lowest sum that any choice of options adds to a unit, in minor units."""
    return sum(min(adds_of([option]) for option in choice.options) for choice in choices)
