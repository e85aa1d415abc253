"""What one payment comes to: lines, discount, delivery, tax, and the fee that the buyer covers.

A plan may ask for several payments that differ in their lines; each is worked out by itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from cravik.core.pricing.delivery import Parcel, Zone
from cravik.core.pricing.discounts import Code, Eligible, FreeDeliveryCode, taken_off
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.picks import Pick
from cravik.core.pricing.tax import DELIVERY, LineTax, Place, TaxRate, rates_for, rates_of, tax_on


@dataclass(frozen=True, slots=True)
class Circumstances:
    """What holds for every payment of an order: the accepted code, the zone that serves the place
    (None where nothing is charged for delivery), the place of taxation, whether the buyer is a
    business with a tax number abroad, and whether the buyer covers the fee."""

    offer: Offer
    code: Code | None
    zone: Zone | None
    place: Place | None
    is_business_abroad: bool
    covers_fee: bool
    #: The rates of the place.
    rates: tuple[TaxRate, ...] = field(init=False)

    def __post_init__(self) -> None:
        tax = self.offer.tax
        object.__setattr__(self, "rates", rates_of(self.place, tax.rates) if tax and self.place else ())


class PaidLine(NamedTuple):
    """One line of a payment, in minor units: ``total`` is what of it is paid, tax and all."""

    pick: Pick
    discount: int
    tax: int
    total: int


class TaxRow(NamedTuple):
    """The tax by one name and percentage over all lines, in minor units."""

    name: str
    percent: Percent
    base: int
    amount: int


@dataclass(frozen=True, slots=True)
class Payment:
    """A payment in minor units. ``delivery`` is the charge as the zone has it, ``total`` holds it with
    its tax and with ``fee_cover``."""

    lines: tuple[PaidLine, ...]
    subtotal: int
    discount: int
    delivery: int
    parcel: Parcel | None
    tax: int
    tax_rows: tuple[TaxRow, ...]
    fee_cover: int
    total: int


def payment_of(picks: Sequence[Pick], given: Circumstances) -> Payment:
    """The payment for ``picks``: discount first, then delivery, then tax, then the fee's cover."""
    discounts = _discounts(picks, given.code)
    parcel = _parcel(picks, discounts) if given.zone else None
    delivery = given.zone.charge_for(parcel) if given.zone and parcel else 0
    if isinstance(given.code, FreeDeliveryCode) and delivery and _counts(given.code, picks):
        delivery = 0
    taxes = _Taxes(given)
    lines, sum_of_lines = [], 0
    for pick, discount in zip(picks, discounts, strict=True):
        taxed, paid = taxes.add(pick.amount - discount, pick.line.tax_category)
        lines.append(PaidLine(pick, discount, taxed, paid))
        sum_of_lines += paid
    total = sum_of_lines + (taxes.add(delivery, DELIVERY)[1] if delivery else 0)
    cover = 0
    if given.covers_fee and given.offer.fee:
        cover = given.offer.fee.covered(total) - total
    return Payment(
        lines=tuple(lines),
        subtotal=sum(pick.amount for pick in picks),
        discount=sum(discounts),
        delivery=delivery,
        parcel=parcel,
        tax=taxes.sum,
        tax_rows=taxes.rows(),
        fee_cover=cover,
        total=total + cover,
    )


def _counts(code: Code, picks: Sequence[Pick]) -> bool:
    return any(code.counts_for(pick.line.key) for pick in picks)


def _discounts(picks: Sequence[Pick], code: Code | None) -> list[int]:
    """What the code takes off each pick."""
    off = [0] * len(picks)
    if code is None or isinstance(code, FreeDeliveryCode):
        return off
    places = [place for place, pick in enumerate(picks) if code.counts_for(pick.line.key)]
    eligible = [Eligible(picks[place].amount, picks[place].quantity, picks[place].unit) for place in places]
    for place, taken in zip(places, taken_off(code, eligible), strict=True):
        off[place] = taken
    return off


def _parcel(picks: Sequence[Pick], discounts: Sequence[int]) -> Parcel | None:
    """What is sent of a payment, or None where nothing is."""
    units = value = weight = 0
    for pick, discount in zip(picks, discounts, strict=True):
        if pick.line.ships:
            units += pick.quantity
            value += pick.amount - discount
            weight += pick.weight_g
    return Parcel(units, value, weight) if units else None


class _Taxes:
    """Adds up the tax of a payment's lines, by name and percentage."""

    def __init__(self, given: Circumstances) -> None:
        self.rates = given.rates
        self.included = given.offer.tax is not None and given.offer.tax.prices_include_tax
        self.reverse = given.is_business_abroad
        self.sum = 0
        self.taxed: list[tuple[tuple[TaxRate, ...], LineTax]] = []

    def add(self, amount: int, category: str) -> tuple[int, int]:
        """The tax on a line after its discount, and what of the line is paid with it."""
        if not self.rates:
            return 0, amount
        rates = rates_for(category, self.rates)
        taxed = tax_on(amount, rates, included=self.included, reverse=self.reverse)
        if rates:
            self.taxed.append((rates, taxed))
        tax = taxed.tax
        self.sum += tax
        return tax, amount - taxed.reversed + (0 if self.included else tax)

    def rows(self) -> tuple[TaxRow, ...]:
        """A row for every name and percentage that some line was taxed by, in the order of the rates."""
        sums: dict[tuple[str, int], list[int]] = {}
        for rates, taxed in self.taxed:
            for rate, part in zip(rates, taxed.parts, strict=True):
                row = sums.setdefault((rate.name, rate.percent.ten_thousandths), [0, 0])
                row[0] += taxed.base
                row[1] += part
        if not sums:
            return ()
        keys = dict.fromkeys((rate.name, rate.percent.ten_thousandths) for rate in self.rates)
        return tuple(TaxRow(key[0], Percent(key[1]), *sums[key]) for key in keys if key in sums)
