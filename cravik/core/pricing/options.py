"""Options of a line, such as size and colour: what they add to its price and weight.

>>> span = OptionGroup("Span", (Option("1.2 m", add=Money(-600, "EUR")), Option("1.8 m", weight_g=80)))
>>> addition_of([span.option("1.2 m")]), span.option("2 m")
(Money(minor=-600, currency='EUR'), None)
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from cravik.core.pricing.money import Money, total_of


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


def addition_of(options: Iterable[Option]) -> Money | None:
    """What ``options`` add to a unit, or None where none of them adds or takes off anything."""
    adds = [option.add for option in options if option.add]
    return total_of(adds, adds[0].currency) if adds else None


def weight_of(options: Iterable[Option]) -> int:
    """The sum that ``options`` add to a unit's weight, in grams."""
    return sum(option.weight_g for option in options)


def least_addition(groups: Iterable[OptionGroup]) -> Money | None:
    """The least that any pick of an option of each group adds to a unit, or None where none adds anything."""
    return addition_of(_picked(groups, min))


def greatest_addition(groups: Iterable[OptionGroup]) -> Money | None:
    """The most that any pick of an option of each group adds to a unit, or None where none adds anything."""
    return addition_of(_picked(groups, max))


def _picked(groups: Iterable[OptionGroup], pick: Callable[..., Option]) -> Iterator[Option]:
    return (pick(group.options, key=lambda option: option.add.minor if option.add else 0) for group in groups)
