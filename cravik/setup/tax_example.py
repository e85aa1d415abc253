"""A sale by made-up prices under a seller's rates, so that they see what each rate reaches before a buyer does."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.delivery import Delivery, FlatCharge, Zone
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.price import FixedPrice, OpenPrice
from cravik.core.pricing.quote import Quote, quote
from cravik.core.pricing.tax import DELIVERY, STANDARD, Place, TaxRate, TaxRules, rates_of
from cravik.core.text.countries import country_words
from cravik.core.text.tax_reach import reach_words

_PRICE, _TIP, _POSTAGE = "48", "5", "6"
#: So many categories beside ``STANDARD`` have a line of their own in it.
_MAX_CATEGORIES = 3


@dataclass(frozen=True)
class Reach:
    """What one rate is charged on."""

    rate: str
    words: str


@dataclass(frozen=True)
class TaxExample:
    """What a buyer in ``place`` would pay, and what each of the rates there reaches."""

    place: str
    quote: Quote
    reaches: tuple[Reach, ...]


def tax_example(rules: TaxRules, currency: str) -> TaxExample | None:
    """The example for a buyer at the seller's, or else where the first rate holds; None where no tax is charged."""
    if not rules.rates:
        return None
    place = Place(rules.seller_country)
    if not rates_of(place, rules.rates):
        place = Place(rules.rates[0].country, rules.rates[0].region)
    there = rates_of(place, rules.rates)
    named = [category for rate in there for category in rate.categories if category not in (STANDARD, DELIVERY)]
    lines = [
        Line(
            f"item-{number}",
            f"An item ({category})",
            FixedPrice(Money.parse(_PRICE, currency)),
            ships=True,
            tax_category=category,
        )
        for number, category in enumerate(list(dict.fromkeys([STANDARD, *named]))[: _MAX_CATEGORIES + 1])
    ]
    lines.append(Line("tip", "A tip, as the buyer chose", OpenPrice(Money.parse("1", currency), None)))
    delivery = Delivery((Zone("Anywhere", ("*",), FlatCharge(Money.parse(_POSTAGE, currency))),))
    offer = Offer("An example", currency, tuple(lines), delivery=delivery, tax=rules)
    basket = Basket(date(2026, 1, 1), (BasketLine("tip", amount=_TIP),), destination=place)
    where = country_words(place.country) + (f", {place.region}" if place.region else "")
    return TaxExample(
        where, quote(offer, basket), tuple(Reach(_named(rate), reach_words(rate, there)) for rate in there)
    )


def _named(rate: TaxRate) -> str:
    return f"{rate.name} {rate.percent.text} %"
