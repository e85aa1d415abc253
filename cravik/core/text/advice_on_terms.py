"""Warnings about the terms of the whole order: codes, delivery, tax, the plan, and its days."""

from __future__ import annotations

from collections.abc import Iterator

from cravik.core.english import day_words, listed
from cravik.core.errors import Fault
from cravik.core.pricing.delivery import ANYWHERE, ByWeight, FlatCharge, Parcel, Zone
from cravik.core.pricing.discounts import (
    AmountCode,
    Code,
    Eligible,
    FreeDeliveryCode,
    PercentCode,
    UnitPriceCode,
    taken_off,
)
from cravik.core.pricing.money import Money, total_of
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.schedule import ChoicePlan, DepositPlan
from cravik.core.pricing.smallest import smallest_amount, smallest_lines
from cravik.core.text.countries import country_words


def advise_on_terms(offer: Offer) -> list[Fault]:
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
            yield Fault(
                "deposit_above_smallest_total",
                f"{at}.amount",
                f"The deposit is {plan.amount.major} {offer.currency}, and the smallest order comes to"
                f" {_worth(smallest)}: all of it would be paid at once.",
            )


def _on_codes(offer: Offer) -> Iterator[Fault]:
    for number, code in enumerate(offer.codes):
        at = f"codes[{number}]"
        if code.starts_on and code.ends_on and code.starts_on > code.ends_on:
            yield Fault(
                "code_never_counts",
                f"{at}.ends_on",
                f"{code.code} ends on {day_words(code.ends_on)}, before it starts on {day_words(code.starts_on)}.",
            )
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
        yield Fault(
            "code_makes_free",
            at,
            f"An order of {_worth(amount)} costs nothing with {code.code}, which takes {_worth(taken)}"
            " off (delivery aside).",
        )


def _does_nothing(offer: Offer, code: Code, at: str) -> Iterator[Fault]:
    match code:
        case PercentCode(percent=percent) if not percent.ten_thousandths:
            yield Fault("code_does_nothing", f"{at}.percent", f"{code.code} takes 0 % off.")
        case AmountCode(amount=amount) if not amount:
            yield Fault("code_does_nothing", f"{at}.amount", f"{code.code} takes {amount.major} off.")
        case UnitPriceCode(line=key, unit=unit):
            line = offer.line(key)
            if line is None or line.choices or not isinstance(line.price, FixedPrice):
                return
            now = line.price.amount
            if now <= unit:
                words = f"{code.code} brings “{line.name}” to {unit.major}, and it costs {now.major} already."
                yield Fault("code_does_nothing", f"{at}.unit", words)
        case FreeDeliveryCode() if offer.delivery is None or not any(line.ships for line in offer.lines):
            yield Fault("code_does_nothing", at, f"{code.code} makes delivery free, and nothing is charged for it.")


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
                f"An order of {_worth(worth)} is sent free to “{zone.name}”. {code.code} takes"
                f" {_worth(off)} off, and delivery then costs {_worth(charge)}: it becomes dearer.",
            )


def _on_delivery(offer: Offer) -> Iterator[Fault]:
    sent = [line for line in offer.lines if line.ships]
    if offer.delivery is None:
        if sent:
            yield Fault(
                "delivery_not_charged",
                "delivery",
                f"{listed([f'“{line.name}”' for line in sent], 'and')} {'is' if len(sent) == 1 else 'are'} sent,"
                " and nothing is charged for delivery.",
            )
        return
    if not sent:
        yield Fault("delivery_of_nothing", "delivery", "Delivery has zones, and no line of the offer is sent.")
    yield from _zones_out_of_reach(offer.delivery.zones)
    weightless = [line for line in sent if not line.weight_g and not line.choices]
    if weightless and any(isinstance(zone.charge, ByWeight) for zone in offer.delivery.zones):
        number = offer.lines.index(weightless[0])
        yield Fault(
            "weight_missing",
            f"lines[{number}].weight_g",
            f"Delivery is charged by weight, and “{weightless[0].name}” weighs 0 g.",
        )
    for number, zone in enumerate(offer.delivery.zones):
        if isinstance(zone.charge, FlatCharge) and not zone.charge.amount and zone.free_from is not None:
            yield Fault(
                "free_anyway",
                f"delivery.zones[{number}].free_from",
                f"“{zone.name}” is free from {zone.free_from.major} on, and costs 0 below that, too.",
            )


def _zones_out_of_reach(zones: tuple[Zone, ...]) -> Iterator[Fault]:
    """Zones all of whose countries an earlier one serves."""
    taken: dict[str, str] = {}
    for number, zone in enumerate(zones):
        if all(country in taken for country in zone.countries):
            others = listed(list(dict.fromkeys(f"“{taken[country]}”" for country in zone.countries)), "and")
            places = listed(
                [
                    "everywhere else" if country == ANYWHERE else country_words(country)
                    for country in zone.countries[:5]
                ],
                "and",
            )
            yield Fault(
                "zone_out_of_reach",
                f"delivery.zones[{number}]",
                f"No order is ever sent by “{zone.name}”: {places} is served by {others} before it.",
            )
        for country in zone.countries:
            taken.setdefault(country, zone.name)


def _on_tax(offer: Offer) -> Iterator[Fault]:
    if offer.tax is None:
        return
    home = [rate for rate in offer.tax.rates if rate.country == offer.tax.seller_country]
    if not home:
        country = country_words(offer.tax.seller_country)
        yield Fault("tax_not_at_home", "tax.rates", f"There is no rate for {country}, where the seller is.")
    known = {category for rate in offer.tax.rates for category in rate.categories}
    for number, line in enumerate(offer.lines):
        if line.tax_category not in known and offer.tax.rates:
            yield Fault(
                "category_not_taxed",
                f"lines[{number}].tax_category",
                f"No rate names “{line.tax_category}”, so “{line.name}” is never taxed.",
            )


def _on_window(offer: Offer) -> Iterator[Fault]:
    window = offer.window
    if window and window.opens_at and window.closes_at and window.opens_at >= window.closes_at:
        yield Fault(
            "never_open",
            "window.closes_at",
            f"It closes at {window.closes_at.isoformat()}, before it opens at {window.opens_at.isoformat()}.",
        )


def _worth(amount: Money) -> str:
    return f"{amount.major} {amount.currency}"
