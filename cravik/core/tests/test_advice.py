from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given

from cravik.core.documents.offer import read_offer
from cravik.core.pricing.advice import advise
from cravik.core.pricing.offer import Offer
from cravik.core.tests.offers import offers
from cravik.core.tests.test_documents import CLUB, document, line
from cravik.core.text.faults import fault_words

FEE = {"percent": "1.5", "fixed": "0.25"}
RIBBON = [{"from": 1, "unit": "12.00"}, {"from": 10, "unit": "10.50"}, {"from": 25, "unit": "9.00"}]
ANY = {"max": None}
FLAT = {"kind": "flat", "amount": "9.00"}
RATE = {"country": "IE", "name": "VAT", "percent": "23"}


def warned(offer: dict[str, Any]) -> list[tuple[str, str, str]]:
    return [(warning.code, warning.at, fault_words(warning)) for warning in advise(read_offer(offer))]


def priced(quantity: dict[str, Any] | None = None, **price: Any) -> dict[str, Any]:
    return line(price=price, quantity=quantity or {})


def zone(*countries: str, name: str = "Home", **more: Any) -> dict[str, Any]:
    return {"name": name, "countries": list(countries), "charge": FLAT} | more


class AdviceTest(unittest.TestCase):
    maxDiff = None

    def test_each_warning_proves_itself_with_figures(self) -> None:
        ribbon = priced(ANY, kind="quantity", method="all_units", breaks=RIBBON)
        levels = [{"key": "half", "name": "Half", "amount": "60"}, {"key": "full", "name": "Full", "amount": "35"}]
        sent = line(ships=True, quantity=ANY)
        ten_off = {"code": "TENNER", "kind": "amount", "amount": "24.00"}
        percent_off = {"code": "GUST", "kind": "percent", "percent": "10"}
        by_weight = {"kind": "by_weight", "bands": [{"from_g": 0, "amount": "5"}]}
        deposit = {"kind": "deposit", "amount": "50", "rest_after_days": 30}
        for offer, expected in (
            (
                document(ribbon),
                [
                    ("more_for_less", "lines[0].price.breaks[1]", "10 cost 105.00 EUR, 9 cost 108.00 EUR."),
                    ("more_for_less", "lines[0].price.breaks[2]", "25 cost 225.00 EUR, 22 cost 231.00 EUR."),
                ],
            ),
            (
                document(ribbon | {"quantity": {"default": 24, "min": 24, "max": 30}}),
                [("more_for_less", "lines[0].price.breaks[2]", "25 cost 225.00 EUR, 24 cost 252.00 EUR.")],
            ),
            (
                document(priced({"max": 9}, kind="quantity", method="incremental", breaks=RIBBON)),
                [
                    (
                        "break_out_of_reach",
                        "lines[0].price.breaks[1].from",
                        "The price from 10 on is never reached: the most of “Kite” is 9.",
                    )
                ],
            ),
            (
                document(priced(kind="open", min="0.25", max=None), fee=FEE),
                [
                    (
                        "minimum_leaves_nothing",
                        "lines[0].price.min",
                        "A buyer may pay as little as 0.25 EUR for “Kite”, of which nothing is left: the fee is"
                        " 0.25 EUR. From 0.26 EUR on, something is left.",
                    )
                ],
            ),
            (
                document(priced(kind="fixed", amount="24", was="24")),
                [
                    (
                        "was_not_higher",
                        "lines[0].price.was",
                        "“Kite” was 24.00 and is 24.00 now: the former price is not higher.",
                    )
                ],
            ),
            (
                document(codes=[ten_off]),
                [
                    (
                        "code_makes_free",
                        "codes[0]",
                        "An order of 24.00 EUR costs nothing with TENNER, which takes 24.00 EUR off (delivery aside).",
                    )
                ],
            ),
            (
                document(priced(kind="levels", levels=levels)),
                [
                    (
                        "level_nobody_takes",
                        "lines[0].price.levels[0]",
                        "“Half” is listed before “Full” and costs more (60.00 against 35.00 EUR): listed as less,"
                        " nobody would choose it.",
                    )
                ],
            ),
            (
                document(sent, delivery={"zones": [zone("IE"), zone("IE", name="Ireland"), zone("*", name="All")]}),
                [
                    (
                        "zone_out_of_reach",
                        "delivery.zones[1]",
                        "No order is ever sent by “Ireland”: Ireland is served by “Home” before it.",
                    )
                ],
            ),
            (
                document(plan=deposit),
                [
                    (
                        "deposit_above_smallest_total",
                        "plan.amount",
                        "The deposit is 50.00 EUR, and the smallest order comes to 24.00 EUR: all of it would be paid"
                        " at once.",
                    )
                ],
            ),
            (
                document(sent, codes=[percent_off], delivery={"zones": [zone("IE", free_from="80.00")]}),
                [
                    (
                        "code_loses_free_delivery",
                        "codes[0]",
                        "An order of 80.00 EUR is sent free to “Home”. GUST takes 8.00 EUR off, and delivery then costs"
                        " 9.00 EUR: it becomes dearer.",
                    )
                ],
            ),
            (
                document(sent),
                [("delivery_not_charged", "delivery", "“Kite” is sent, and nothing is charged for delivery.")],
            ),
            (
                document(sent, delivery={"zones": [zone("IE", charge=by_weight)]}),
                [
                    (
                        "weight_missing",
                        "lines[0].weight_g",
                        "Delivery is charged by weight, and “Kite” weighs 0 g.",
                    )
                ],
            ),
            (
                document(tax={"seller_country": "FR", "rates": [RATE | {"categories": ["books"]}]}),
                [
                    ("tax_not_at_home", "tax.rates", "There is no rate for France, where the seller is."),
                    (
                        "category_not_taxed",
                        "lines[0].tax_category",
                        "No rate names “standard”, so “Kite” is never taxed.",
                    ),
                ],
            ),
        ):
            with self.subTest(expected[0][0]):
                self.assertEqual(warned(offer), expected)

    def test_smaller_slips_are_named_too(self) -> None:
        window = {"opens_at": "2026-12-02T00:00:00+00:00", "closes_at": "2026-12-01T00:00:00+00:00"}
        late = {"code": "LATE", "kind": "percent", "percent": "0", "starts_on": "2026-12-02", "ends_on": "2026-12-01"}
        one = {"name": "Size", "options": [{"name": "S"}]}
        for code, offer in {
            "pack_never_full": document(priced({"max": 5}, kind="packs", size=6, amount="9")),
            "never_open": document(window=window),
            "code_never_counts": document(codes=[late]),
            "code_does_nothing": document(codes=[late]),
            "no_choice": document(line(choices=[one])),
            "once_means_nothing": document(line(once=True)),
            "delivery_of_nothing": document(delivery={"zones": [zone("IE")]}),
            "free_anyway": document(
                line(ships=True),
                delivery={"zones": [zone("IE", charge={"kind": "flat", "amount": "0"}, free_from="5")]},
            ),
            "nothing_left": document(priced(kind="fixed", amount="0.20"), fee=FEE),
        }.items():
            with self.subTest(code):
                self.assertIn(code, {warning[0] for warning in warned(offer)})

    def test_a_sound_offer_has_no_warnings(self) -> None:
        rising = [{"key": "half", "name": "Half", "amount": "35"}, {"key": "full", "name": "Full", "amount": "60"}]
        minimum = {"code": "GUST", "kind": "percent", "percent": "10", "minimum": "30"}
        for offer in (
            document(),
            document(priced(kind="fixed", amount="24", was="30"), fee=FEE),
            document(priced(ANY, kind="quantity", method="incremental", breaks=RIBBON)),
            document(priced(kind="levels", levels=rising), codes=[minimum]),
            document(line(), line(key="joining", once=True), plan=CLUB),
            document(line(ships=True), delivery={"zones": [zone("IE", free_from="80"), zone("*", name="All")]}),
            document(tax={"seller_country": "IE", "rates": [RATE]}),
        ):
            with self.subTest(offer):
                self.assertEqual(warned(offer), [])

    @given(offers())
    def test_every_offer_can_be_advised_on(self, offer: Offer) -> None:
        for warning in advise(offer):
            self.assertTrue(
                warning.at.split("[")[0].split(".")[0] in {"lines", "codes", "delivery", "tax", "plan", "window"}
            )
            self.assertTrue(fault_words(warning).endswith("."))
