"""Where a buyer is, is asked only where something hangs on it."""

from __future__ import annotations

import unittest
from dataclasses import replace

from cravik.core.pricing.destination import asked_of
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer, simple_offer
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.tax import TaxRate, TaxRules


def taxed(*places: tuple[str, str | None]) -> Offer:
    rates = tuple(TaxRate(country, "VAT", Percent.parse("20"), region=region) for country, region in places)
    return replace(simple_offer("Kite", Money(2400, "EUR")), tax=TaxRules("IE", rates))


class AskedTest(unittest.TestCase):
    def test_tax_of_other_places_than_the_sellers_country_asks_for_the_country(self) -> None:
        for places, asks in (
            ((), False),
            ((("IE", None),), False),
            ((("IE", None), ("IE", None)), False),
            ((("FR", None),), True),
            ((("IE", "Kerry"),), True),
            ((("IE", None), ("FR", None)), True),
        ):
            with self.subTest(places):
                self.assertIs(asked_of(taxed(*places)).country, asks)
