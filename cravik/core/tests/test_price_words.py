from __future__ import annotations

import unittest
from typing import Any

from cravik.core.documents.offer import read_offer
from cravik.core.errors import MixedCurrencies
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Line, Offer, Quantity, simple_offer
from cravik.core.pricing.price import Break, FixedPrice, PacksPrice, QuantityPrice
from cravik.core.tests.refusing import refused_with
from cravik.core.tests.test_documents import document, line
from cravik.core.text.hints import quantity_hint
from cravik.core.text.price_words import price_in_words

LEVELS = [{"key": f"l{amount}", "name": f"Level {amount}", "amount": amount} for amount in ("12", "40", "20")]
BREAKS = [{"from": 1, "unit": "12"}, {"from": 10, "unit": "9"}]


def words(*lines: dict[str, Any], **more: Any) -> str:
    return price_in_words(read_offer(document(lines=list(lines), **more)))


def priced(**price: Any) -> dict[str, Any]:
    return line(price=price)


class PriceWordsTest(unittest.TestCase):
    def test_each_kind_of_price_in_its_words(self) -> None:
        fixed = priced(kind="fixed", amount="48")
        many = {"quantity": {"max": None}}
        for said, sold in {
            "€48.00": fixed,
            "free": priced(kind="fixed", amount="0"),
            "€12.00–€40.00": priced(kind="levels", levels=LEVELS),
            "up to €40.00": priced(kind="levels", levels=[*LEVELS, {"key": "l0", "name": "Free", "amount": "0"}]),
            "from €12.00": priced(kind="quantity", method="all_units", breaks=BREAKS) | many,
            "€12.00": priced(kind="quantity", method="all_units", breaks=BREAKS),
            "from €6.00": priced(kind="packs", size=12, amount="6") | many,
            "pay what you want, from €5.00": priced(kind="open", min="5", max="50"),
            "pay what you want": priced(kind="open", min="0", max=None),
            "€144.00": fixed | {"quantity": {"min": 3, "default": 3, "max": 9}},
            "€42.00–€50.00": fixed
            | {"choices": [{"name": "Span", "options": [{"name": "1 m", "add": "-6"}, {"name": "2 m", "add": "2"}]}]},
            "from €48.00": fixed | {"optional": True},
        }.items():
            with self.subTest(said):
                self.assertEqual(words(sold), said)

    def test_several_lines_are_summed_and_extras_are_not_in_it(self) -> None:
        fixed, extra = priced(kind="fixed", amount="48"), priced(kind="fixed", amount="5") | {"optional": True}
        other = priced(kind="open", min="5", max=None) | {"key": "fund", "name": "Fund"}
        self.assertEqual(words(fixed, extra | {"key": "tail"}), "€48.00")
        self.assertEqual(words(fixed, other), "from €53.00")

    def test_what_repeats_and_what_is_taxed_on_top_is_said(self) -> None:
        monthly = {"kind": "repeat", "every": {"count": 1, "unit": "month"}}
        own = {"key": "m", "plan": monthly, "prices": {"kite": {"kind": "fixed", "amount": "5"}}}
        tax = {"seller_country": "IE", "rates": [{"country": "IE", "name": "VAT", "percent": "23"}]}
        sold = priced(kind="fixed", amount="48") | {"key": "kite"}
        self.assertEqual(words(sold, plan=monthly), "€48.00 every month")
        self.assertEqual(words(sold, tax=tax), "€48.00 plus tax")
        once = {"key": "once", "plan": {"kind": "once"}}
        self.assertEqual(words(sold, plan={"kind": "choice", "of": [once, own]}), "from €5.00")

    def test_an_offer_in_two_currencies_cannot_be_built(self) -> None:
        with refused_with(self, MixedCurrencies, "in EUR, and some amount of it in GBP"):
            Offer("Kite", "EUR", (Line("kite", "Kite", FixedPrice(Money(4800, "GBP"))),))
        self.assertEqual(simple_offer("Kite", Money(4800, "GBP")).currency, "GBP")


def eur(minor: int) -> Money:
    return Money(minor, "EUR")


class HintTest(unittest.TestCase):
    def test_what_a_larger_quantity_costs_is_said_where_it_matters(self) -> None:
        breaks = (Break(1, eur(1200)), Break(10, eur(1050)), Break(20, eur(500)))
        all_units, each = QuantityPrice("all_units", breaks), QuantityPrice("incremental", breaks)
        any_number, up_to_nine = Quantity(1, 1, None), Quantity(1, 1, 9)
        cases = (
            (all_units, any_number, 8, None, "2 more, and each costs €10.50: 10 cost €105.00."),
            (all_units, any_number, 9, None, "10 cost less than 9: €105.00."),
            (all_units, any_number, 8, eur(300), "2 more, and each costs €13.50: 10 cost €135.00."),
            (all_units, any_number, 20, None, ""),
            (all_units, up_to_nine, 8, None, ""),
            (each, any_number, 3, None, "From number 10 on, each costs €10.50."),
            (PacksPrice(12, eur(600)), any_number, 13, None, "Up to 24 cost the same: they come in packs of 12."),
            (PacksPrice(12, eur(600)), any_number, 12, None, ""),
            (PacksPrice(12, eur(600)), up_to_nine, 9, None, ""),
            (FixedPrice(eur(600)), any_number, 2, None, ""),
        )
        for price, bounds, quantity, add, words in cases:
            with self.subTest(price=price, quantity=quantity):
                self.assertEqual(quantity_hint(price, bounds, quantity, add), words)
