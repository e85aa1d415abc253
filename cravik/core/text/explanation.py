"""A quote told line by line in words: why each figure is what it is, naming the rule.

>>> from datetime import date
>>> from cravik.core.pricing.offer import simple_offer
>>> print(*explain(simple_offer("Kite repair", Money(2400, "EUR")), Basket(date(2026, 11, 23)))[:1])
Kite repair: 24.00 EUR. 1 at the fixed price of 24.00.
"""

from __future__ import annotations

from collections.abc import Iterator

from cravik.core.english import counted, listed
from cravik.core.pricing.basket import Basket
from cravik.core.pricing.delivery import ByValue, ByWeight, FlatCharge, Parcel, PercentCharge, PerItemCharge, Zone
from cravik.core.pricing.discounts import AmountCode, FreeDeliveryCode, PercentCode, UnitPriceCode
from cravik.core.pricing.money import Money, total_of
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.payment import PaidLine
from cravik.core.pricing.picks import Pick
from cravik.core.pricing.price import BundlesPrice, FixedPrice, LevelsPrice, OpenPrice, PacksPrice, QuantityPrice
from cravik.core.pricing.quote import Workings, work_out
from cravik.core.pricing.schedule import DepositPlan, InstalmentsPlan, OncePlan, RepeatPlan
from cravik.core.pricing.tax import DELIVERY, TaxRate, rates_for
from cravik.core.text.plan_words import every_words, first_words, rest_words, span_words


def explain(offer: Offer, basket: Basket) -> list[str]:
    """The sentences, in the order of the computation. Raises ``BasketRefused`` as ``quote`` does."""
    return list(_Teller(offer, basket, work_out(offer, basket)).sentences())


class _Teller:
    def __init__(self, offer: Offer, basket: Basket, workings: Workings) -> None:
        self.offer = offer
        self.basket = basket
        self.given = workings.given
        self.plan = workings.plan
        self.payment = workings.payment
        self.quote = workings.quote
        self.nothing = Money(0, offer.currency)

    def sentences(self) -> Iterator[str]:
        for paid in self.payment.lines:
            yield self.line(paid.pick)
        yield f"Subtotal: {self.money(self.payment.subtotal)}, the sum of the lines."
        yield from self.discount()
        yield from self.delivery()
        yield from self.tax()
        yield from self.total()
        yield from self.due()
        yield from self.fee()

    def line(self, pick: Pick) -> str:
        options = f" ({', '.join(option.name for option in pick.options)})" if pick.options else ""
        return f"{pick.line.name}{options}: {self.money(pick.amount)}. {self.price(pick)}{self.adds(pick)}"

    def price(self, pick: Pick) -> str:
        quantity = f"{pick.quantity:,}"
        match pick.line.price:
            case FixedPrice(amount=amount):
                return f"{quantity} at the fixed price of {amount.major}."
            case LevelsPrice() as price:
                level = price.level(pick.wanted.level)
                return f"{quantity} at the level “{level.name if level else ''}”, {(pick.unit or self.nothing).major}."
            case QuantityPrice(method="all_units") as price:
                reached = next(price.breaks_used(pick.quantity))[0]
                flat = f", and {reached.flat.major} flat" if reached.flat else ""
                return (
                    f"{quantity} reach the break from {reached.from_:,}, whose price of {reached.unit.major}"
                    f" holds for all units{flat}."
                )
            case QuantityPrice() as price:
                parts = [
                    f"{units:,} at {each.unit.major}" + (f" and {each.flat.major} flat" if each.flat else "")
                    for each, units in price.breaks_used(pick.quantity)
                ]
                return f"Each unit costs what the break says that it falls in: {listed(parts, 'and')}."
            case PacksPrice(size=size, amount=amount) as price:
                packs = counted(price.packs(pick.quantity), "pack", "packs")
                return f"{quantity} need {packs} of {size:,} at {amount.major}; a started pack is a whole pack."
            case BundlesPrice():
                parts = [
                    f"{part.number:,} single at {part.amount.major}"
                    if part.size == 1
                    else f"{counted(part.number, 'bundle', 'bundles')} of {part.size:,} at {part.amount.major}"
                    for part in pick.made_of
                ] or [f"{quantity} single at {(pick.unit or self.nothing).major}"]
                return f"{quantity} come to the least as {listed(parts, 'and')}."
            case OpenPrice():
                whose = "stands there at first" if self.asked_amount(pick) is None else "the buyer entered"
                return f"{quantity} at the amount that {whose}, {(pick.unit or self.nothing).major}."

    def asked_amount(self, pick: Pick) -> str | None:
        return next((line.amount for line in self.basket.lines if line.key == pick.line.key), None)

    def adds(self, pick: Pick) -> str:
        added = [f"{option.name} {option.add.major}" for option in pick.options if option.add]
        return f" The options add to each unit: {listed(added, 'and')}." if added else ""

    def discount(self) -> Iterator[str]:
        code = self.given.code
        if code is None:
            return
        eligible = [paid for paid in self.payment.lines if code.counts_for(paid.pick.line.key)]
        base = total_of((paid.pick.amount for paid in eligible), self.offer.currency).major
        match code:
            case PercentCode(percent=percent):
                how = f"{percent.text} % of the eligible {base}, rounded once"
            case AmountCode(amount=amount):
                how = f"{amount.major} off, at most the eligible {base}"
            case UnitPriceCode(unit=unit):
                how = f"it brings the price of a unit down to {unit.major}, never up"
            case FreeDeliveryCode():
                yield f"Code {code.code}: it takes the delivery charge away, and nothing off the lines."
                return
        yield f"Discount: {self.money(self.payment.discount)} by the code {code.code}: {how}{self.spread(eligible)}."

    def spread(self, eligible: list[PaidLine]) -> str:
        if len(eligible) < 2 or not self.payment.discount:
            return ""
        parts = [f"{paid.pick.line.name} {paid.discount.major}" for paid in eligible]
        return f"; spread in proportion by largest remainder: {listed(parts, 'and')}"

    def delivery(self) -> Iterator[str]:
        zone, parcel = self.given.zone, self.payment.parcel
        if zone is None or parcel is None:
            ships = any(paid.pick.line.ships for paid in self.payment.lines)
            why = "the offer charges nothing for delivery" if ships else "nothing is sent"
            yield f"Delivery: {self.money(self.nothing)}, because {why}."
        elif isinstance(self.given.code, FreeDeliveryCode) and not self.payment.delivery:
            yield f"Delivery: {self.money(self.nothing)}, free by the code {self.given.code.code}."
        elif zone.free_from is not None and parcel.value >= zone.free_from:
            yield (
                f"Delivery: {self.money(self.nothing)}: what is sent is worth {parcel.value.major} after the discount,"
                f" and the zone “{zone.name}” is free from {zone.free_from.major} on."
            )
        else:
            how = self.charge(zone, parcel)
            yield f"Delivery: {self.money(self.payment.delivery)} to the zone “{zone.name}”: {how}."

    def charge(self, zone: Zone, parcel: Parcel) -> str:
        match zone.charge:
            case FlatCharge():
                return "the same for every order"
            case PerItemCharge(first=first, next=following):
                units = counted(parcel.units, "unit", "units")
                return f"{first.major} for the first and {following.major} for each next of {units}"
            case ByValue():
                return f"the band that the value of {parcel.value.major} reaches"
            case ByWeight():
                return f"the band that the weight of {parcel.weight_g:,} g reaches"
            case PercentCharge(percent=percent):
                return f"{percent.text} % of the value of {parcel.value.major}, rounded"

    def tax(self) -> Iterator[str]:
        rules, place = self.offer.tax, self.given.place
        if rules is None or place is None:
            yield f"Tax: {self.money(self.nothing)}; the offer has no tax rates."
            return
        where = f"{place.country}-{place.region}" if place.region else place.country
        if not self.basket.destination:
            where += " (the seller's, for the basket names no place)"
        included = rules.prices_include_tax
        how = "inside the prices" if included else "on top of the prices"
        yield f"Tax: {self.money(self.payment.tax)} {how}, by the rates of {where}, rounded line by line."
        for row in self.payment.tax_lines:
            yield f"  {row.name} {row.percent.text} %: {row.amount.major} on a net of {row.base.major}."
        reversed_rates = [rate.name for rate in self.charged_rates() if rate.reverse_charge]
        if self.given.is_business_abroad and reversed_rates:
            taken = f"; {self.reversed()} is taken off what is paid" if included else ""
            yield (
                f"  Reverse charge: the buyer has a tax number and is not in {rules.seller_country}, so"
                f" {listed(list(dict.fromkeys(reversed_rates)), 'and')} falls to nothing{taken}."
            )

    def charged_rates(self) -> list[TaxRate]:
        """The rates that any line, or the delivery, is taxed by."""
        categories = [paid.pick.line.tax_category for paid in self.payment.lines]
        if self.payment.delivery:
            categories.append(DELIVERY)
        return [rate for category in dict.fromkeys(categories) for rate in rates_for(category, self.given.rates)]

    def reversed(self) -> str:
        payment = self.payment
        return (payment.subtotal - payment.discount + payment.delivery + payment.fee_cover - payment.total).major

    def total(self) -> Iterator[str]:
        payment = self.payment
        if payment.fee_cover and self.offer.fee:
            without = (payment.total - payment.fee_cover).major
            yield (
                f"Fee cover: {self.money(payment.fee_cover)}: the smallest addition that leaves at least {without}"
                " after the fee."
            )
        on_top = payment.tax and not (self.offer.tax and self.offer.tax.prices_include_tax)
        sums = (("delivery", payment.delivery), ("tax", on_top), ("the fee cover", payment.fee_cover))
        more = [name for name, amount in sums if amount]
        lines = "the lines less the discount" if payment.discount else "the lines"
        plus = f", plus {listed(more, 'and')}" if more else ""
        yield f"Total: {self.money(payment.total)}: {lines}{plus}."

    def due(self) -> Iterator[str]:
        yield f"Due now: {self.money(self.quote.due_now)}. {self.when()}"
        for later in self.quote.schedule:
            yield f"  {later.on.isoformat()}: {later.amount.major}"

    def when(self) -> str:
        match self.plan:
            case OncePlan():
                return "All of it is paid at once."
            case InstalmentsPlan(every=every, payments=payments):
                parts = counted(payments, "part", "parts")
                return f"The total in {parts}, {every_words(every)}; they differ by one minor unit at most."
            case DepositPlan(percent=percent) as plan:
                least = plan.deposit_on(self.payment.total, self.basket.on).major
                how = f"{percent.text} % of the total, rounded" if percent else "capped at the total"
                more = "" if self.basket.pay_now is None else f" The buyer chose to pay {self.quote.due_now.major} now."
                return f"The deposit is {least}, {how}; the rest {rest_words(plan)}.{more}"
            case RepeatPlan(every=every, payments=payments, trial=trial) as plan:
                end = "without an end; the next 12 are listed" if payments is None else f"{payments} times"
                start = (
                    f" Now only what is charged once; the first full payment is {span_words(trial)} on."
                    if trial
                    else ""
                )
                names = {line.key: line.name for line in self.offer.lines}
                first = first_words(plan, names)
                at_first = f" {first[:1].upper()}{first[1:]}; the others at the lines' own prices." if first else ""
                return f"Paid {every_words(every)}, {end}.{start}{at_first}"

    def fee(self) -> Iterator[str]:
        fee = self.offer.fee
        if fee is None:
            yield f"{self.money(self.quote.net)} is paid out; the offer names no fee."
            return
        how = (
            f"{fee.percent.text} % of the total, rounded, and {fee.fixed.major}" if self.payment.total else "no payment"
        )
        yield f"Fee: {self.money(self.quote.fee)}: {how}."
        yield f"{self.money(self.quote.net)} is paid out, tax and delivery with it."

    def money(self, amount: Money) -> str:
        return f"{amount.major} {amount.currency}"
