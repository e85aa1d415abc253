"""What a line costs for a quantity, by each kind of price.

>>> breaks = (Break(1, Money(1200, "EUR")), Break(10, Money(1050, "EUR")))
>>> QuantityPrice("all_units", breaks).on(Wanted(10))
Priced(amount=10500, unit=1050)
>>> QuantityPrice("incremental", breaks).on(Wanted(10))
Priced(amount=11850, unit=None)
>>> PacksPrice(12, Money(600, "EUR")).on(Wanted(13))
Priced(amount=1200, unit=None)
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar, Literal, NamedTuple

from cravik.core.pricing.money import Money


class Wanted(NamedTuple):
    """What a buyer asked of a line: a ``quantity`` above zero, the sum of the chosen options'
    ``adds`` and the ``entered`` amount in minor units, and the key of a ``level``."""

    quantity: int
    adds: int = 0
    level: str | None = None
    entered: int | None = None


class Priced(NamedTuple):
    """A line's ``amount`` and its price a ``unit``, in minor units. The unit price is None where
    no one price holds for all units, or a flat sum is added."""

    amount: int
    unit: int | None


@dataclass(frozen=True, slots=True)
class FixedPrice:
    """One price a unit; ``was`` is a former price, shown struck through."""

    kind: ClassVar = "fixed"
    takes_adds: ClassVar = True
    amount: Money
    was: Money | None = None

    def on(self, wanted: Wanted) -> Priced:
        unit = self.amount.minor + wanted.adds
        return Priced(wanted.quantity * unit, unit)

    def unit_prices(self) -> Iterator[Money]:
        """Every price a unit can have, before options."""
        yield self.amount


@dataclass(frozen=True, slots=True)
class Level:
    """One of several prices to pick from; ``key`` is a slug, unique in its price."""

    key: str
    name: str
    amount: Money


@dataclass(frozen=True, slots=True)
class LevelsPrice:
    """The buyer picks one of 2 to 12 levels, and pays its amount a unit."""

    kind: ClassVar = "levels"
    takes_adds: ClassVar = False
    levels: tuple[Level, ...]

    def level(self, key: str | None) -> Level | None:
        return next((level for level in self.levels if level.key == key), None)

    def on(self, wanted: Wanted) -> Priced:
        """Raises ``ValueError`` for a level that is not one of these."""
        level = self.level(wanted.level)
        if level is None:
            raise ValueError(f"{wanted.level!r} is no level of this price")
        return Priced(wanted.quantity * level.amount.minor, level.amount.minor)

    def unit_prices(self) -> Iterator[Money]:
        for level in self.levels:
            yield level.amount


@dataclass(frozen=True, slots=True)
class Break:
    """From ``from_`` units on, each costs ``unit``; ``flat`` is added once. Absent is nothing."""

    from_: int
    unit: Money
    flat: Money | None = None


@dataclass(frozen=True, slots=True)
class QuantityPrice:
    """The price a unit depends on how many are bought: ascending ``breaks``, the first from 1.

    ``all_units``: the break that the quantity reaches holds for all of them (an all-units quantity
    discount). ``incremental``: each unit costs what the break that it falls in says.
    """

    kind: ClassVar = "quantity"
    takes_adds: ClassVar = True
    method: Literal["all_units", "incremental"]
    breaks: tuple[Break, ...]

    def on(self, wanted: Wanted) -> Priced:
        used = list(self.breaks_used(wanted.quantity))
        amount = sum(units * (each.unit.minor + wanted.adds) + _flat(each) for each, units in used)
        one_price = len({each.unit.minor for each, _ in used}) == 1 and not any(_flat(each) for each, _ in used)
        return Priced(amount, used[0][0].unit.minor + wanted.adds if one_price else None)

    def breaks_used(self, quantity: int) -> Iterator[tuple[Break, int]]:
        """The breaks that ``quantity`` units are priced by, and how many by each."""
        if self.method == "all_units":
            yield next(each for each in reversed(self.breaks) if each.from_ <= quantity), quantity
            return
        for number, each in enumerate(self.breaks):
            if each.from_ > quantity:
                return
            after = self.breaks[number + 1].from_ if number + 1 < len(self.breaks) else quantity + 1
            yield each, min(after - 1, quantity) - each.from_ + 1

    def unit_prices(self) -> Iterator[Money]:
        for each in self.breaks:
            yield each.unit


@dataclass(frozen=True, slots=True)
class PacksPrice:
    """Sold in packs of ``size``; a started pack is a whole pack."""

    kind: ClassVar = "packs"
    takes_adds: ClassVar = False
    size: int
    amount: Money

    def packs(self, quantity: int) -> int:
        return -(-quantity // self.size)

    def on(self, wanted: Wanted) -> Priced:
        return Priced(self.packs(wanted.quantity) * self.amount.minor, None)

    def unit_prices(self) -> Iterator[Money]:
        yield self.amount


@dataclass(frozen=True, slots=True)
class OpenPrice:
    """The buyer enters the amount a unit, from ``min`` to ``max`` (None: without an upper bound).

    ``suggested`` are offered beside the field, ``start`` stands in it.
    """

    kind: ClassVar = "open"
    takes_adds: ClassVar = False
    min: Money
    max: Money | None
    suggested: tuple[Money, ...] = ()
    start: Money | None = None

    def on(self, wanted: Wanted) -> Priced:
        """Raises ``ValueError`` where nothing was entered."""
        if wanted.entered is None:
            raise ValueError("an open price needs the amount that the buyer entered")
        return Priced(wanted.quantity * wanted.entered, wanted.entered)

    def unit_prices(self) -> Iterator[Money]:
        yield self.min
        if self.max is not None:
            yield self.max


Price = FixedPrice | LevelsPrice | QuantityPrice | PacksPrice | OpenPrice


def _flat(each: Break) -> int:
    return each.flat.minor if each.flat else 0
