from __future__ import annotations

import unittest
from typing import Any

from cravik.core.documents.offer import read_offer
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.tests.test_documents import CLUB, document, line
from cravik.core.text.sentence import Phrase, sentence

MONTHLY = {"count": 1, "unit": "month"}
FLAT = {"kind": "flat", "amount": "5.00"}


def said(offer: dict[str, Any], locale: str = "en") -> str:
    return "".join(phrase.text for phrase in sentence(read_offer(offer), locale))


def zones(*charges: dict[str, Any], countries: tuple[str, ...] = ("IE",), **more: Any) -> dict[str, Any]:
    return {"zones": [{"name": "Zone", "countries": list(countries), "charge": charge} | more for charge in charges]}


def priced(**price: Any) -> dict[str, Any]:
    return line(price=price)


class SentenceTest(unittest.TestCase):
    def test_every_kind_of_price(self) -> None:
        levels = [{"key": f"l{n}", "name": f"Level {n}", "amount": f"{n}0.00"} for n in range(1, 6)]
        breaks = [{"from": n, "unit": f"{20 - n}.00"} for n in (1, 2, 10, 20, 30)]
        for words, sold in {
            "€24.00 instead of €30.00 for Kite": priced(kind="fixed", amount="24", was="30"),
            "nothing (€0.00) for Kite": priced(kind="fixed", amount="0"),
            "€10.00 (Level 1) or €20.00 (Level 2) for Kite": priced(kind="levels", levels=levels[:2]),
            "one of 5 amounts from €10.00 to €50.00 for Kite": priced(kind="levels", levels=levels),
            "€19.00 each, €18.00 each from 2 on and €10.00 each from 10 on, for Kite, only one": priced(
                kind="quantity", method="all_units", breaks=breaks[:3]
            ),
            "€19.00 each for the first, €18.00 each for the next 8 and €10.00 each after that, for Kite, only one": (
                priced(kind="quantity", method="incremental", breaks=breaks[:3])
            ),
            "€19.00 each plus €2.00 for Kite, only one": priced(
                kind="quantity", method="all_units", breaks=[breaks[0] | {"flat": "2"}]
            ),
            "from €0.00 to €19.00 each, by quantity in 5 steps, for Kite, only one": priced(
                kind="quantity", method="all_units", breaks=[*breaks[:4], {"from": 30, "unit": "0"}]
            ),
            "€6.00 a pack of 12 for Kite, only one": priced(kind="packs", size=12, amount="6"),
            "what the buyer wants, from €5.00 to €500.00, for Kite": priced(kind="open", min="5", max="500"),
            "what the buyer wants, €5.00 or more, for Kite": priced(kind="open", min="5", max=None),
        }.items():
            with self.subTest(words):
                self.assertEqual(said(document(sold)), f"{words}, paid once.")

    def test_quantities_and_options(self) -> None:
        size = {"name": "Size", "options": [{"name": "S", "add": "-6"}, {"name": "M"}]}
        colours = {"name": "Colour", "options": [{"name": f"c{number}"} for number in range(6)]}
        for words, sold in {
            "€24.00 each for Kite, up to 3": line(quantity={"max": 3}),
            "€24.00 each for Kite, as many as wanted": line(quantity={"max": None}),
            "€24.00 each for Kite, 5 or more": line(quantity={"default": 5, "min": 5, "max": None}),
            "€24.00 each for Kite, from 2 to 9": line(quantity={"default": 2, "min": 2, "max": 9}),
            "€24.00 each for Kite, always 2": line(quantity={"default": 2, "min": 2, "max": 2}),
            "€24.00 for Kite in S (€6.00 less) or M and in one of 6 for Colour": line(choices=[size, colours]),
        }.items():
            with self.subTest(words):
                self.assertEqual(said(document(sold)), f"{words}, paid once.")

    def test_every_plan(self) -> None:
        parts = {"kind": "instalments", "every": MONTHLY, "payments": 4}
        deposit = {"kind": "deposit", "percent": "20", "rest_after_days": 1}
        choice = {"kind": "choice", "of": [{"key": "now", "plan": {"kind": "once"}}, {"key": "parts", "plan": parts}]}
        for words, plan in {
            "once": {"kind": "once"},
            "every month until cancelled": CLUB,
            "every 2 weeks, 1 time": CLUB | {"every": {"count": 2, "unit": "week"}, "payments": 1},
            "every month, 12 times, the first time after 14 days": CLUB | {"payments": 12, "trial_days": 14},
            "in 4 equal parts, every month": parts,
            "20 % now and the rest after 1 day": deposit,
            "at least €50.00 now and the rest after 30 days": {
                "kind": "deposit",
                "amount": "50",
                "rest_after_days": 30,
                "buyer_may_pay_more": True,
            },
            "as the buyer picks: once; or in 4 equal parts, every month": choice,
        }.items():
            with self.subTest(words):
                self.assertEqual(said(document(plan=plan)), f"€24.00 for Kite, paid {words}.")

    def test_delivery_in_all_its_charges(self) -> None:
        per_item = {"kind": "per_item", "first": "5", "next": "2"}
        by_weight = {"kind": "by_weight", "bands": [{"from_g": 0, "amount": "5"}]}
        by_value = {"kind": "by_value", "bands": [{"from": "0", "amount": "5"}]}
        for words, delivery in {
            "sent without a charge for delivery": None,
            "sent to Ireland for €5.00": zones(FLAT),
            "sent to Ireland free of charge": zones({"kind": "flat", "amount": "0"}),
            "sent to Ireland and France for €5.00, free from €80.00 on": zones(
                FLAT, countries=("IE", "FR"), free_from="80"
            ),
            "sent to 4 countries for €5.00": zones(FLAT, countries=("IE", "FR", "GB", "DE")),
            "sent anywhere for €5.00 and €2.00 for each further piece": zones(per_item, countries=("*",)),
            "sent to Ireland at a charge by weight": zones(by_weight),
            "sent to Ireland at a charge by value": zones(by_value),
            "sent to Ireland for 4.75 % of the value": zones({"kind": "percent", "percent": "4.75"}),
            "sent to Ireland at 2 rates for delivery": zones(FLAT, by_weight),
        }.items():
            with self.subTest(words):
                offer = document(line(ships=True)) | ({"delivery": delivery} if delivery else {})
                self.assertEqual(said(offer), f"€24.00 for Kite, {words}, paid once.")

    def test_tax_codes_fee_and_days(self) -> None:
        rates = [{"country": "IE", "name": "VAT", "percent": "23"}]
        offer = document(
            tax={"seller_country": "IE", "rates": rates, "prices_include_tax": True},
            codes=[{"code": "GUST", "kind": "percent", "percent": "10"}],
            fee={"percent": "1.5", "fixed": "0.25", "buyer_may_cover": True},
            window={"opens_at": "2026-12-01T09:00:00+01:00", "closes_at": "2026-12-31T18:00:00+00:00"},
        )
        self.assertEqual(
            said(offer),
            "€24.00 for Kite, tax included, paid once, with 1 discount code, the buyer may cover the fee,"
            " from 1 Dec 2026, 09:00 (UTC+01:00) until 31 Dec 2026, 18:00 (UTC).",
        )
        offer["tax"] = {"seller_country": "IE", "rates": rates}
        self.assertIn("for Kite, tax added, paid once", said(offer))
        offer["tax"] = {"seller_country": "IE", "rates": []}
        self.assertIn("for Kite, paid once", said(offer))

    def test_several_lines_and_another_locale(self) -> None:
        joining, extra = line(key="joining", name="Joining", once=True), line(key="tail", name="Tail", optional=True)
        self.assertEqual(
            said(document(line(), joining, extra, plan=CLUB), "de"),
            "Kites: 24,00\u00a0€ for Kite; 24,00\u00a0€ for Joining, charged only once;"
            " and if wanted 24,00\u00a0€ for Tail; paid every month until cancelled.",
        )
        self.assertEqual(
            said(document(line(), extra)), "Kites: €24.00 for Kite and if wanted €24.00 for Tail; paid once."
        )

    def test_each_phrase_names_the_part_it_speaks_of(self) -> None:
        phrases = sentence(read_offer(document(line(ships=True, quantity={"max": 3}))))
        self.assertEqual(
            [phrase.about for phrase in phrases if phrase.about],
            ["lines[0].price", "lines[0].name", "lines[0].quantity", "delivery", "plan"],
        )

    def test_what_is_not_decided_is_a_gap(self) -> None:
        nothing = sentence(read_partial_offer({}))
        self.assertEqual("".join(phrase.text for phrase in nothing), "an amount for what it is for, paid once.")
        self.assertEqual([phrase.about for phrase in nothing if phrase.gap], ["lines[0].price", "lines[0].name"])
        half = document(line(name="", price={"kind": "fixed", "amount": "x"}), line(key="tail", name="Tail"), title="")
        phrases = sentence(read_partial_offer(half | {"plan": CLUB, "tax": "none"}))
        self.assertEqual(
            "".join(phrase.text for phrase in phrases),
            "what it is for: an amount for what it is for and €24.00 for Tail; paid every month until cancelled.",
        )
        self.assertEqual([p.about for p in phrases if p.gap], ["title", "lines[0].price", "lines[0].name"])
        for hostile in (None, [], 7, {"lines": [None, 5]}, {"lines": "x", "codes": 5, "currency": []}):
            self.assertIn(Phrase("paid once", "plan"), sentence(read_partial_offer(hostile)))

    def test_a_finished_draft_is_said_as_the_offer_is(self) -> None:
        offer = document(line(quantity={"max": 3}), plan=CLUB)
        self.assertEqual(sentence(read_partial_offer(offer)), sentence(read_offer(offer)))
