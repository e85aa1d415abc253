"""Warnings about the whole order: codes, delivery, tax, the plan, and its days."""

from __future__ import annotations

from collections.abc import Iterator

from cravik.core.errors import Fault
from cravik.core.pricing.delivery import ByWeight, FlatCharge, Parcel, Zone
from cravik.core.pricing.discounts import (
    AmountCode,
    Code,
    Eligible,
    FreeDeliveryCode,
    PercentCode,
    UnitPriceCode,
    taken_off,
)
from cravik.core.pricing.money import total_of
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.schedule import ChoicePlan, DepositPlan
from cravik.core.pricing.smallest import smallest_amount, smallest_lines


def advise_on_whole_order(offer: Offer) -> list[Fault]:
    """The warnings, in the order of the offer's parts."""
    return [*_on_plan(offer), *_on_codes(offer), *_on_delivery(offer), *_on_tax(offer), *_on_window(offer)]


def _on_plan(offer: Offer) -> Iterator[Fault]:
    plans = (
        [(f"plan.of[{number}].plan", choice.plan) for number, choice in enumerate(offer.plan.of)]
        if isinstance(offer.plan, ChoicePlan)
        else [("plan", offer.plan)]
    )
    smallest = smallest_amount(offer)
    for at, plan in plans:
        if isinstance(plan, DepositPlan) and plan.amount is not None and plan.amount > smallest:
            yield Fault("deposit_above_smallest_total", f"{at}.amount", deposit=plan.amount, smallest=smallest)


def _on_codes(offer: Offer) -> Iterator[Fault]:
    for number, code in enumerate(offer.codes):
        at = f"codes[{number}]"
        if code.starts_on and code.ends_on and code.starts_on > code.ends_on:
            starts, ends = code.starts_on, code.ends_on
            yield Fault("code_never_counts", f"{at}.ends_on", code=code.code, starts_on=starts, ends_on=ends)
        yield from _makes_free(offer, code, at)
        yield from _does_nothing(offer, code, at)
        yield from _loses_free_delivery(offer, code, at)


def _makes_free(offer: Offer, code: Code, at: str) -> Iterator[Fault]:
    """The smallest order that the code counts for, or the cheapest that reaches its minimum."""
    if isinstance(code, FreeDeliveryCode):
        return
    lines = smallest_lines(offer)
    eligible = [line for line in lines if code.counts_for(line.line.key)]
    amount = total_of((line.amount for line in eligible), offer.currency)
    if not amount or total_of((line.amount for line in lines), offer.currency) > amount:
        return
    if code.minimum and code.minimum > amount:
        if isinstance(code, UnitPriceCode):
            return
        amount = code.minimum
        off = taken_off(code, [Eligible(amount, 1, amount)])
    else:
        unit = [line.line.price.amount if isinstance(line.line.price, FixedPrice) else None for line in eligible]
        off = taken_off(
            code, [Eligible(line.amount, line.quantity, price) for line, price in zip(eligible, unit, strict=True)]
        )
    taken = total_of(off, offer.currency)
    if taken >= amount:
        yield Fault("code_makes_free", at, code=code.code, amount=amount, taken=taken)


def _does_nothing(offer: Offer, code: Code, at: str) -> Iterator[Fault]:
    match code:
        case PercentCode(percent=percent) if not percent.ten_thousandths:
            yield Fault("code_does_nothing", f"{at}.percent", why="code_takes_no_percent", code=code.code)
        case AmountCode(amount=amount) if not amount:
            yield Fault("code_does_nothing", f"{at}.amount", why="code_takes_no_amount", code=code.code, amount=amount)
        case UnitPriceCode(line=key, unit=unit):
            line = offer.line(key)
            if line is None or line.choices or not isinstance(line.price, FixedPrice):
                return
            now = line.price.amount
            if now <= unit:
                yield Fault(
                    "code_does_nothing",
                    f"{at}.unit",
                    why="code_to_higher_price",
                    code=code.code,
                    line=line.name,
                    to=unit,
                    now=now,
                )
        case FreeDeliveryCode() if offer.delivery is None or not any(line.ships for line in offer.lines):
            yield Fault("code_does_nothing", at, why="code_frees_free_delivery", code=code.code)


def _loses_free_delivery(offer: Offer, code: Code, at: str) -> Iterator[Fault]:
    """An order just worth free delivery that the code brings below it, and makes dearer by that."""
    if not isinstance(code, PercentCode | AmountCode) or not offer.delivery:
        return
    if not any(line.ships and code.counts_for(line.key) for line in offer.lines):
        return
    for zone in offer.delivery.zones:
        if zone.free_from is None or (code.minimum and code.minimum > zone.free_from):
            continue
        worth = zone.free_from
        off = taken_off(code, [Eligible(worth, 1, worth)])[0]
        # One unit of no weight: the least that the zone could charge for it.
        if off and (charge := zone.charge_for(Parcel(1, worth - off, 0))) > off:
            yield Fault(
                "code_loses_free_delivery",
                at,
                code=code.code,
                zone=zone.name,
                worth=worth,
                off=off,
                charge=charge,
            )


def _on_delivery(offer: Offer) -> Iterator[Fault]:
    sent = [line for line in offer.lines if line.ships]
    if offer.delivery is None:
        if sent:
            yield Fault("delivery_not_charged", "delivery", lines=tuple(line.name for line in sent))
        return
    if not sent:
        yield Fault("delivery_of_nothing", "delivery")
    yield from _zones_out_of_reach(offer.delivery.zones)
    weightless = [line for line in sent if not line.weight_g and not line.choices]
    if weightless and any(isinstance(zone.charge, ByWeight) for zone in offer.delivery.zones):
        number = offer.lines.index(weightless[0])
        yield Fault("weight_missing", f"lines[{number}].weight_g", line=weightless[0].name)
    for number, zone in enumerate(offer.delivery.zones):
        if isinstance(zone.charge, FlatCharge) and not zone.charge.amount and zone.free_from is not None:
            at = f"delivery.zones[{number}].free_from"
            yield Fault("free_anyway", at, zone=zone.name, free_from=zone.free_from)


def _zones_out_of_reach(zones: tuple[Zone, ...]) -> Iterator[Fault]:
    """Zones all of whose countries an earlier one serves."""
    taken: dict[str, str] = {}
    for number, zone in enumerate(zones):
        if all(country in taken for country in zone.countries):
            others = tuple(dict.fromkeys(taken[country] for country in zone.countries))
            places = zone.countries[:5]
            yield Fault(
                "zone_out_of_reach", f"delivery.zones[{number}]", zone=zone.name, countries=places, others=others
            )
        for country in zone.countries:
            taken.setdefault(country, zone.name)


def _on_tax(offer: Offer) -> Iterator[Fault]:
    if offer.tax is None:
        return
    home = [rate for rate in offer.tax.rates if rate.country == offer.tax.seller_country]
    if not home:
        yield Fault("tax_not_at_home", "tax.rates", country=offer.tax.seller_country)
    known = {category for rate in offer.tax.rates for category in rate.categories}
    for number, line in enumerate(offer.lines):
        if line.tax_category not in known and offer.tax.rates:
            yield Fault(
                "category_not_taxed",
                f"lines[{number}].tax_category",
                line=line.name,
                category=line.tax_category,
            )


def _on_window(offer: Offer) -> Iterator[Fault]:
    window = offer.window
    if window and window.opens_at and window.closes_at and window.opens_at >= window.closes_at:
        yield Fault(
            "never_open",
            "window.closes_at",
            opens_at=window.opens_at,
            closes_at=window.closes_at,
        )
