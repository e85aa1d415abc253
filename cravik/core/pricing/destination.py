"""What an offer has to know of where its buyer is, and where it supposes them until they say.

Asking for little is a virtue: a country is asked only where something is sent or taxed by place.
"""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.pricing.delivery import ANYWHERE
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.tax import Place


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked: an ``address`` where something is sent, a ``country`` where the price hangs on it.

    ``countries`` are the ones to choose from, None for any; ``regions`` those of a country that are taxed
    differently. ``tax_number`` where a firm abroad is not taxed.
    """

    address: bool = False
    country: bool = False
    countries: tuple[str, ...] | None = None
    regions: tuple[tuple[str, tuple[str, ...]], ...] = ()
    tax_number: bool = False

    def regions_of(self, country: str) -> tuple[str, ...]:
        return next((regions for each, regions in self.regions if each == country), ())

    def serves(self, country: str) -> bool:
        return self.countries is None or country in self.countries


def asked_of(offer: Offer) -> Asked:
    """What a buyer of the offer has to say about where they are."""
    address = any(line.ships for line in offer.lines)
    rates = offer.tax.rates if offer.tax else ()
    home = offer.tax.seller_country if offer.tax else ""
    by_place = any((rate.country, rate.region) != (home, None) for rate in rates)
    regions = {
        country: tuple(dict.fromkeys(rate.region for rate in rates if rate.country == country and rate.region))
        for country in dict.fromkeys(rate.country for rate in rates)
    }
    return Asked(
        address=address,
        country=address or by_place,
        countries=_served(offer) if address else None,
        regions=tuple((country, names) for country, names in regions.items() if names),
        tax_number=(address or by_place) and any(rate.reverse_charge for rate in rates),
    )


def default_place(offer: Offer, home: str) -> Place | None:
    """Where the buyer is taken to be until they say: at the seller's ``home``, or where it is sent to first."""
    asked = asked_of(offer)
    if not asked.country:
        return None
    country = home if asked.serves(home) or not asked.countries else asked.countries[0]
    return Place(country)


def _served(offer: Offer) -> tuple[str, ...] | None:
    if offer.delivery is None:
        return None
    named = tuple(dict.fromkeys(country for zone in offer.delivery.zones for country in zone.countries))
    return None if ANYWHERE in named else named
