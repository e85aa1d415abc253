"""What a line costs for a quantity, by each kind of price.

>>> breaks = (Break(1, Money(1200, "EUR")), Break(10, Money(1050, "EUR")))
>>> QuantityPrice("all_units", breaks).on(Wanted(10))[:2]
(Money(minor=10500, currency='EUR'), Money(minor=1050, currency='EUR'))
>>> QuantityPrice("incremental", breaks).on(Wanted(10)).amount.major
'118.50'
>>> PacksPrice(12, Money(600, "EUR")).on(Wanted(13)).amount.major
'12.00'
>>> ribbon = BundlesPrice(Money(200, "EUR"), (Bundle(3, Money(500, "EUR")), Bundle(10, Money(1500, "EUR"))))
>>> ribbon.on(Wanted(7)).amount.major, [(part.number, part.size) for part in ribbon.on(Wanted(7)).made_of]
('12.00', [(2, 3), (1, 1)])
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import ClassVar, Literal, NamedTuple

from cravik.core.pricing.money import Money, total_of

#: The most pieces of a line that is sold in bundles.
MAX_IN_BUNDLES = 1000


class Wanted(NamedTuple):
    """What a buyer asked of a line: a ``quantity`` above zero, what the chosen options ``add`` to a unit, the key of
    a ``level``, and the amount that was ``entered``."""

    quantity: int
    add: Money | None = None
    level: str | None = None
    entered: Money | None = None


class Portion(NamedTuple):
    """So many times ``size`` pieces for an ``amount`` each time."""

    number: int
    size: int
    amount: Money


class Priced(NamedTuple):
    """A line's ``amount`` and its price a ``unit``. The unit price is None where no one price holds for all units, or a
    flat sum is added. Where pieces are sold together it is ``made_of`` portions, which add up to it."""

    amount: Money
    unit: Money | None
    made_of: tuple[Portion, ...] = ()


class Saving(NamedTuple):
    """What a former price is undercut by: an ``amount``, and whole per cent, rounded down."""

    amount: Money
    percent: int


@dataclass(frozen=True, slots=True)
class FixedPrice:
    """One price a unit; ``was`` is a former price, shown struck through.

    >>> FixedPrice(Money(4800, "EUR"), was=Money(6000, "EUR")).saving
    Saving(amount=Money(minor=1200, currency='EUR'), percent=20)
    """

    kind: ClassVar = "fixed"
    takes_adds: ClassVar = True
    amount: Money
    was: Money | None = None

    @property
    def saving(self) -> Saving | None:
        """What is saved against the former price; None where that was not higher."""
        if self.was is None or self.was <= self.amount:
            return None
        saved = self.was - self.amount
        return Saving(saved, 100 * saved.minor // self.was.minor)

    def on(self, wanted: Wanted) -> Priced:
        unit = _with_addition(self.amount, wanted)
        return Priced(unit * wanted.quantity, unit)

    def unit_prices(self) -> Iterator[Money]:
        """Every price a unit can have, before options."""
        yield self.amount


@dataclass(frozen=True, slots=True)
class Level:
    """One of several prices to pick from; ``key`` is a slug, unique in its price, and ``words`` say what it gives."""

    key: str
    name: str
    amount: Money
    words: str = ""


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
        return Priced(level.amount * wanted.quantity, level.amount)

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
        amounts = [_with_addition(each.unit, wanted) * units for each, units in used]
        flats = [each.flat for each, _ in used if each.flat]
        first = used[0][0].unit
        has_one_price = not flats and all(each.unit == first for each, _ in used)
        amount = total_of([*amounts, *flats], first.currency) if len(used) > 1 or flats else amounts[0]
        return Priced(amount, _with_addition(first, wanted) if has_one_price else None)

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
        packs = self.packs(wanted.quantity)
        return Priced(self.amount * packs, None, (Portion(packs, self.size, self.amount),))

    def unit_prices(self) -> Iterator[Money]:
        yield self.amount


@dataclass(frozen=True, slots=True)
class Bundle:
    """``count`` pieces together for an ``amount``, which is less than they cost singly."""

    count: int
    amount: Money


@dataclass(frozen=True, slots=True)
class BundlesPrice:
    """A price a ``unit``, and ``bundles`` that cost less, by rising count. A buyer pays the least that bundles and
    single pieces come to for exactly what they take."""

    kind: ClassVar = "bundles"
    takes_adds: ClassVar = True
    unit: Money
    bundles: tuple[Bundle, ...]

    def on(self, wanted: Wanted) -> Priced:
        """``quantity`` is at most ``MAX_IN_BUNDLES``, so that the least is found in no time."""
        often, rest = self.combination(wanted.quantity)
        bundled = tuple(
            Portion(number, each.count, each.amount + wanted.add * each.count if wanted.add else each.amount)
            for each, number in reversed(often)
        )
        single = _with_addition(self.unit, wanted)
        made_of = (*bundled, Portion(rest, 1, single)) if rest else bundled
        amount = total_of((part.amount * part.number for part in made_of), self.unit.currency)
        return Priced(amount, None if bundled else single, made_of if bundled else ())

    def combination(self, quantity: int) -> tuple[list[tuple[Bundle, int]], int]:
        """How often each bundle is taken for so many pieces, by rising count, and how many pieces are single."""
        _, last = least_sums(self.unit.minor, self._sizes, quantity)
        often: Counter[int] = Counter()
        left = quantity
        while left:
            often[last[left]] += 1
            left -= self.bundles[last[left]].count if last[left] >= 0 else 1
        return [(self.bundles[place], number) for place, number in sorted(often.items()) if place >= 0], often[-1]

    def sums_up_to(self, most: int, add: Money | None = None) -> list[Money]:
        """What each number of pieces costs, from none to ``most``, where the options ``add`` so much to each."""
        least, _ = least_sums(self.unit.minor, self._sizes, most)
        each = add.minor if add else 0
        return [Money(minor + each * pieces, self.unit.currency) for pieces, minor in enumerate(least)]

    @property
    def _sizes(self) -> tuple[tuple[int, int], ...]:
        return tuple((each.count, each.amount.minor) for each in self.bundles)

    def unit_prices(self) -> Iterator[Money]:
        """The single price, and of each bundle what is left a piece, rounded down: no option may take off more."""
        yield self.unit
        for each in self.bundles:
            yield Money(each.amount.minor // each.count, each.amount.currency)


@lru_cache(maxsize=256)
def least_sums(unit: int, bundles: tuple[tuple[int, int], ...], most: int) -> tuple[list[int], list[int]]:
    """The least that each number of pieces from none to ``most`` comes to, and which of ``bundles``, ``(count,
    amount)``, is the last of those that make it (-1: a single piece at ``unit``); of equal sums the one with larger
    bundles. Amounts are in minor units.

    >>> least_sums(200, ((3, 500),), 4)[0]
    [0, 200, 400, 500, 700]
    """
    least, last = [0] * (most + 1), [-1] * (most + 1)
    for pieces in range(1, most + 1):
        least[pieces] = least[pieces - 1] + unit
        for place, (count, amount) in enumerate(bundles):
            if count <= pieces and least[pieces - count] + amount <= least[pieces]:
                least[pieces], last[pieces] = least[pieces - count] + amount, place
    return least, last


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
        return Priced(wanted.entered * wanted.quantity, wanted.entered)

    def unit_prices(self) -> Iterator[Money]:
        yield self.min
        if self.max is not None:
            yield self.max


Price = FixedPrice | LevelsPrice | QuantityPrice | PacksPrice | BundlesPrice | OpenPrice


def _with_addition(unit: Money, wanted: Wanted) -> Money:
    return unit + wanted.add if wanted.add else unit
