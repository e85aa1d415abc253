"""What it costs to send an order to a place.

>>> home = Zone("Home", ("IE",), ByWeight((WeightBand(0, Money(500, "EUR")), WeightBand(1000, Money(900, "EUR")))))
>>> zone_for("IE", (home,)).charge_for(Parcel(units=3, value=Money(14400, "EUR"), weight_g=1260)).major
'9.00'
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
    """What is sent: units, their discounted value, and their weight in grams."""

    units: int
    value: Money
    weight_g: int


class ParcelCharge(Protocol):
    """A way to charge for a parcel."""

    def on(self, parcel: Parcel) -> Money: ...


@dataclass(frozen=True, slots=True)
class FlatCharge:
    """The same for every parcel."""

    kind: ClassVar = "flat"
    amount: Money

    def on(self, parcel: Parcel) -> Money:
        return self.amount


@dataclass(frozen=True, slots=True)
class PerItemCharge:
    """One charge for the ``first`` unit and another for each ``next``."""

    kind: ClassVar = "per_item"
    first: Money
    next: Money

    def on(self, parcel: Parcel) -> Money:
        return self.first + self.next * (parcel.units - 1)


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

    def on(self, parcel: Parcel) -> Money:
        return next(band.amount for band in reversed(self.bands) if band.from_ <= parcel.value)


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

    def on(self, parcel: Parcel) -> Money:
        return next(band.amount for band in reversed(self.bands) if band.from_g <= parcel.weight_g)


@dataclass(frozen=True, slots=True)
class PercentCharge:
    """A percentage of the parcel's value, rounded."""

    kind: ClassVar = "percent"
    percent: Percent

    def on(self, parcel: Parcel) -> Money:
        return Money(self.percent.of(parcel.value.minor), parcel.value.currency)


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

    def charge_for(self, parcel: Parcel) -> Money:
        """The charge; nothing from the value on from which the zone is free."""
        if self.free_from is not None and parcel.value >= self.free_from:
            return Money(0, parcel.value.currency)
        return self.charge.on(parcel)


@dataclass(frozen=True, slots=True)
class Delivery:
    """The zones that an offer is delivered to, in order."""

    zones: tuple[Zone, ...]


def zone_for(country: str, zones: Sequence[Zone]) -> Zone | None:
    """The first zone that names the country, else the first for anywhere, else None: not served."""
    named = next((zone for zone in zones if country in zone.countries), None)
    return named or next((zone for zone in zones if ANYWHERE in zone.countries), None)
