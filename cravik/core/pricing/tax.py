"""Tax on a line: on top of its price or inside it, by several rates of one place.

Each line is rounded by itself. Under a reverse charge (EU VAT Directive 2006/112/EC, articles 44
and 196) a business buyer abroad accounts for the tax, so the rate falls to nothing for it.

>>> vat = TaxRate("IE", "VAT", Percent.parse("23"))
>>> tax_on(4800, (vat,), included=False, reverse=False)
LineTax(base=4800, parts=(1104,), reversed=0)
>>> tax_on(4800, (vat,), included=True, reverse=False)
LineTax(base=3902, parts=(898,), reversed=0)
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from cravik.core.pricing.percent import WHOLE, Percent, rounded_ratio
from cravik.core.pricing.shares import in_proportion

#: The category of delivery; where no rate of a place names it, that of ``STANDARD`` counts.
DELIVERY = "delivery"
STANDARD = "standard"


@dataclass(frozen=True, slots=True)
class TaxRate:
    """A rate of a country, or of one region of it, for lines of the named categories."""

    country: str
    name: str
    percent: Percent
    region: str | None = None
    categories: tuple[str, ...] = (STANDARD,)
    reverse_charge: bool = False


@dataclass(frozen=True, slots=True)
class TaxRules:
    """The rates that an offer is taxed by, in order, and whether its prices hold the tax already."""

    seller_country: str
    rates: tuple[TaxRate, ...]
    prices_include_tax: bool = False


class Place(NamedTuple):
    """Where a buyer is: a country (ISO 3166-1 alpha-2) and, where it matters, its region."""

    country: str
    region: str | None = None


class LineTax(NamedTuple):
    """The tax of one line in minor units: its net ``base``, the part of each rate that is charged,
    and what a reverse charge takes off a price that includes tax."""

    base: int
    parts: tuple[int, ...]
    reversed: int

    @property
    def tax(self) -> int:
        return sum(self.parts)


def rates_of(place: Place, rates: Sequence[TaxRate]) -> tuple[TaxRate, ...]:
    """The rates that hold in ``place``, for any category."""
    return tuple(rate for rate in rates if rate.country == place.country and rate.region in (None, place.region))


def rates_for(category: str, rates: Sequence[TaxRate]) -> tuple[TaxRate, ...]:
    """Those of a place's ``rates`` that a line of ``category`` is taxed by."""
    found = tuple(rate for rate in rates if category in rate.categories)
    if category == DELIVERY and not found:
        return rates_for(STANDARD, rates)
    return found


def tax_on(amount: int, rates: Sequence[TaxRate], *, included: bool, reverse: bool) -> LineTax:
    """The tax on ``amount`` minor units (after discount) by each of ``rates``.

    Included: with R the sum of the percentages, the net is amount ÷ (1 + R/100), rounded; the rest is
    tax, shared over the rates by largest remainder. ``reverse`` says whether rates with a reverse
    charge fall to nothing.
    """
    if not rates:
        return LineTax(amount, (), 0)
    if included:
        base = rounded_ratio(amount * WHOLE, WHOLE + sum(rate.percent.ten_thousandths for rate in rates))
        full = in_proportion(amount - base, [rate.percent.ten_thousandths for rate in rates])
    else:
        base = amount
        full = [rate.percent.of(amount) for rate in rates]
    if not reverse:
        return LineTax(base, tuple(full), 0)
    charged = tuple(0 if rate.reverse_charge else part for rate, part in zip(rates, full, strict=True))
    return LineTax(base, charged, sum(full) - sum(charged) if included else 0)
