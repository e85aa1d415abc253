"""What one payment comes to: lines, discount, delivery, tax, and the fee that the buyer covers.

A plan may ask for several payments that differ in their lines; each is worked out by itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from cravik.core.pricing.delivery import Parcel, Zone
from cravik.core.pricing.discounts import Code, Eligible, FreeDeliveryCode, taken_off
from cravik.core.pricing.money import Money, total_of
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
    """One line of a payment: ``total`` is what of it is paid, tax and all."""

    pick: Pick
    discount: Money
    tax: Money
    total: Money


class TaxLine(NamedTuple):
    """The tax by one name and percentage over all lines: the net ``base`` and the ``amount``."""

    name: str
    percent: Percent
    base: Money
    amount: Money


class Taxed(NamedTuple):
    """The rates that hold for something, and its tax by each of them."""

    rates: tuple[TaxRate, ...]
    by_rate: LineTax

    def rows(self, currency: str) -> tuple[TaxLine, ...]:
        base = Money(self.by_rate.base, currency)
        parts = zip(self.rates, self.by_rate.parts, strict=True)
        return tuple(TaxLine(rate.name, rate.percent, base, Money(part, currency)) for rate, part in parts)


@dataclass(frozen=True, slots=True)
class Payment:
    """A payment. ``delivery`` is the charge as the zone has it, ``total`` holds it with its tax and with
    ``fee_cover``."""

    lines: tuple[PaidLine, ...]
    subtotal: Money
    discount: Money
    delivery: Money
    parcel: Parcel | None
    tax: Money
    tax_lines: tuple[TaxLine, ...]
    fee_cover: Money
    total: Money
    #: By which rates each of the lines was taxed, and delivery after them where it is charged; None for none.
    taxed: tuple[Taxed | None, ...] = ()


def payment_of(picks: Sequence[Pick], given: Circumstances) -> Payment:
    """The payment for ``picks``: discount first, then delivery, then tax, then the fee's cover."""
    currency = given.offer.currency
    nothing = Money(0, currency)
    discounts = _discounts(picks, given.code, nothing)
    parcel = _parcel(picks, discounts, currency) if given.zone else None
    delivery = given.zone.charge_for(parcel) if given.zone and parcel else nothing
    if isinstance(given.code, FreeDeliveryCode) and delivery and _counts(given.code, picks):
        delivery = nothing
    taxes = _Taxes(given)
    lines = []
    sum_of_lines = 0
    for pick, discount in zip(picks, discounts, strict=True):
        tax, paid = taxes.add(pick.amount - discount if discount else pick.amount, pick.line.tax_category)
        lines.append(PaidLine(pick, discount, tax, paid))
        sum_of_lines += paid.minor
    total = Money(sum_of_lines, currency)
    if delivery:
        total += taxes.add(delivery, DELIVERY)[1]
    cover = nothing
    if given.covers_fee and given.offer.fee:
        cover = given.offer.fee.covered(total) - total
    return Payment(
        lines=tuple(lines),
        subtotal=total_of((pick.amount for pick in picks), currency),
        discount=total_of(discounts, currency),
        delivery=delivery,
        parcel=parcel,
        tax=Money(taxes.sum, currency),
        tax_lines=taxes.rows(),
        fee_cover=cover,
        total=total + cover if cover else total,
        taxed=tuple(taxes.taxed),
    )


def _counts(code: Code, picks: Sequence[Pick]) -> bool:
    return any(code.counts_for(pick.line.key) for pick in picks)


def _discounts(picks: Sequence[Pick], code: Code | None, nothing: Money) -> list[Money]:
    """What the code takes off each pick."""
    off = [nothing] * len(picks)
    if code is None or isinstance(code, FreeDeliveryCode):
        return off
    places = [place for place, pick in enumerate(picks) if code.counts_for(pick.line.key)]
    eligible = [Eligible(picks[place].amount, picks[place].quantity, picks[place].unit) for place in places]
    for place, taken in zip(places, taken_off(code, eligible), strict=True):
        off[place] = taken
    return off


def _parcel(picks: Sequence[Pick], discounts: Sequence[Money], currency: str) -> Parcel | None:
    """What is sent of a payment, or None where nothing is."""
    units = weight = value = 0
    for pick, discount in zip(picks, discounts, strict=True):
        if pick.line.ships:
            units += pick.quantity
            value += pick.amount.minor - discount.minor
            weight += pick.weight_g
    return Parcel(units, Money(value, currency), weight) if units else None


class _Taxes:
    """Adds up the tax of a payment's lines, by name and percentage, in minor units."""

    def __init__(self, given: Circumstances) -> None:
        self.currency = given.offer.currency
        self.nothing = Money(0, self.currency)
        self.rates = given.rates
        self.included = given.offer.tax is not None and given.offer.tax.prices_include_tax
        self.reverse = given.is_business_abroad
        self.sum = 0
        self.taxed: list[Taxed | None] = []

    def add(self, amount: Money, category: str) -> tuple[Money, Money]:
        """The tax on a line after its discount, and what of the line is paid with it."""
        rates = rates_for(category, self.rates) if self.rates else ()
        if not rates:
            self.taxed.append(None)
            return self.nothing, amount
        taxed = tax_on(amount.minor, rates, included=self.included, reverse=self.reverse)
        self.taxed.append(Taxed(rates, taxed))
        tax = taxed.tax
        self.sum += tax
        paid = amount.minor - taxed.reversed + (0 if self.included else tax)
        return Money(tax, self.currency), Money(paid, self.currency)

    def rows(self) -> tuple[TaxLine, ...]:
        """A row for every name and percentage that some line was taxed by, in the order of the rates."""
        sums: dict[tuple[str, int], list[int]] = {}
        for rates, taxed in filter(None, self.taxed):
            for rate, part in zip(rates, taxed.parts, strict=True):
                row = sums.setdefault((rate.name, rate.percent.ten_thousandths), [0, 0])
                row[0] += taxed.base
                row[1] += part
        if not sums:
            return ()
        keys = dict.fromkeys((rate.name, rate.percent.ten_thousandths) for rate in self.rates)
        return tuple(
            TaxLine(key[0], Percent(key[1]), *(Money(minor, self.currency) for minor in sums[key]))
            for key in keys
            if key in sums
        )
