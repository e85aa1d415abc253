"""What it costs to send an order to a place.

>>> home = Zone("Home", ("IE",), ByWeight((WeightBand(0, Money(500, "EUR")), WeightBand(1000, Money(900, "EUR")))))
>>> zone_for("IE", (home,)).charge_for(Parcel(units=3, value=14400, weight_g=1260))
900
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import ClassVar, NamedTuple, Protocol

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent

#: Names every country that no other zone does.
ANYWHERE = "*"


class Parcel(NamedTuple):
    """What is sent: units, their discounted value in minor units, and their weight in grams."""

    units: int
    value: int
    weight_g: int


class ParcelCharge(Protocol):
    """A way to charge for a parcel, in minor units."""

    def on(self, parcel: Parcel) -> int: ...


@dataclass(frozen=True, slots=True)
class FlatCharge:
    """The same for every parcel."""

    kind: ClassVar = "flat"
    amount: Money

    def on(self, parcel: Parcel) -> int:
        return self.amount.minor


@dataclass(frozen=True, slots=True)
class PerItemCharge:
    """One charge for the ``first`` unit and another for each ``next``."""

    kind: ClassVar = "per_item"
    first: Money
    next: Money

    def on(self, parcel: Parcel) -> int:
        return self.first.minor + (parcel.units - 1) * self.next.minor


@dataclass(frozen=True, slots=True)
class ValueBand:
    """From a value of ``from_`` on, delivery costs ``amount``."""

    from_: Money
    amount: Money


@dataclass(frozen=True, slots=True)
class ByValue:
    """The highest band that the parcel's value reaches; ascending, the first from nothing."""

    kind: ClassVar = "by_value"
    bands: tuple[ValueBand, ...]

    def on(self, parcel: Parcel) -> int:
        return next(band.amount.minor for band in reversed(self.bands) if band.from_.minor <= parcel.value)


@dataclass(frozen=True, slots=True)
class WeightBand:
    """From ``from_g`` grams on, delivery costs ``amount``."""

    from_g: int
    amount: Money


@dataclass(frozen=True, slots=True)
class ByWeight:
    """The highest band that the parcel's weight reaches; ascending, the first from 0 g.

    A parcel of more than ``most_g`` grams is not sent.
    """

    kind: ClassVar = "by_weight"
    bands: tuple[WeightBand, ...]
    most_g: int | None = None

    def on(self, parcel: Parcel) -> int:
        return next(band.amount.minor for band in reversed(self.bands) if band.from_g <= parcel.weight_g)


@dataclass(frozen=True, slots=True)
class PercentCharge:
    """A percentage of the parcel's value, rounded."""

    kind: ClassVar = "percent"
    percent: Percent

    def on(self, parcel: Parcel) -> int:
        return self.percent.of(parcel.value)


DeliveryCharge = FlatCharge | PerItemCharge | ByValue | ByWeight | PercentCharge


@dataclass(frozen=True, slots=True)
class Zone:
    """Countries (ISO 3166-1 alpha-2, or ``*``) that are delivered to alike; free from a value on, if named."""

    name: str
    countries: tuple[str, ...]
    charge: DeliveryCharge
    free_from: Money | None = None

    @property
    def most_g(self) -> int | None:
        """The weight in grams above which a parcel is refused, if there is one."""
        return self.charge.most_g if isinstance(self.charge, ByWeight) else None

    def charge_for(self, parcel: Parcel) -> int:
        """The charge in minor units."""
        if self.free_from is not None and parcel.value >= self.free_from.minor:
            return 0
        return self.charge.on(parcel)


@dataclass(frozen=True, slots=True)
class Delivery:
    """The zones that an offer is delivered to, in order."""

    zones: tuple[Zone, ...]


def zone_for(country: str, zones: Sequence[Zone]) -> Zone | None:
    """The first zone that names the country, else the first for anywhere, else None: not served."""
    named = next((zone for zone in zones if country in zone.countries), None)
    return named or next((zone for zone in zones if ANYWHERE in zone.countries), None)
