"""The phrases of the offer sentence that speak of the whole order: delivery, tax, codes, days."""

from __future__ import annotations

from cravik.core.english import counted, instant_words, listed
from cravik.core.pricing.delivery import ANYWHERE, ByValue, ByWeight, FlatCharge, PercentCharge, PerItemCharge, Zone
from cravik.core.pricing.partial_offer import PartialOffer
from cravik.core.text.countries import country_words
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money

_NAMED_SINGLY = 3


def delivery_words(offer: PartialOffer, locale: str) -> str:
    """Where it is sent and for how much; nothing for what is not sent."""
    if not any(line.ships for line in offer.lines):
        return ""
    if offer.delivery is None:
        return "sent without a charge for delivery"
    zones = offer.delivery.zones
    charge = charge_words(zones[0], locale) if len(zones) == 1 else f"at {len(zones)} rates for delivery"
    return f"sent {_places_words(zones)} {charge}"


def _places_words(zones: tuple[Zone, ...]) -> str:
    countries = list(dict.fromkeys(country for zone in zones for country in zone.countries))
    if ANYWHERE in countries:
        return "anywhere"
    if len(countries) <= _NAMED_SINGLY:
        return f"to {listed([country_words(code) for code in countries], 'and')}"
    return f"to {len(countries)} countries"


def charge_words(zone: Zone, locale: str = DEFAULT_LOCALE) -> str:
    """What a parcel to the zone costs, such as ``for €5.00, free from €80.00 on``."""
    match zone.charge:
        case FlatCharge(amount=amount):
            words = f"for {format_money(amount, locale)}" if amount else "free of charge"
        case PerItemCharge(first=first, next=following):
            words = f"for {format_money(first, locale)} and {format_money(following, locale)} for each further piece"
        case ByValue():
            words = "at a charge by value"
        case ByWeight():
            words = "at a charge by weight"
        case PercentCharge(percent=percent):
            words = f"for {percent.text} % of the value"
    return words + (f", free from {format_money(zone.free_from, locale)} on" if zone.free_from is not None else "")


def tax_words(offer: PartialOffer) -> str:
    if offer.tax is None or not offer.tax.rates:
        return ""
    return "tax included" if offer.tax.prices_include_tax else "tax added"


def codes_words(offer: PartialOffer) -> str:
    return f"with {counted(len(offer.codes), 'discount code', 'discount codes')}" if offer.codes else ""


def window_words(offer: PartialOffer) -> str:
    """From when until when it can be bought, with the offset from UTC."""
    if offer.window is None:
        return ""
    opens, closes = offer.window.opens_at, offer.window.closes_at
    words = [f"from {instant_words(opens)}"] if opens else []
    return " ".join(words + ([f"until {instant_words(closes)}"] if closes else []))
