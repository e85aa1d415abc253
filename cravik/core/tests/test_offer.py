from __future__ import annotations

import json
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.errors import InvalidDocument
from cravik.core.fees import Fee
from cravik.core.money import Money
from cravik.core.offer import Offer, simple_offer
from cravik.core.offer_document import read_offer, write_offer
from cravik.core.percent import Percent
from cravik.core.quote import quote, write_quote
from cravik.core.sentence import sentence

titles = st.text(st.characters(exclude_categories=["Cs"]), min_size=1, max_size=120)
money = st.builds(Money, st.integers(0, 10**15), st.just("EUR"))
fees = st.none() | st.builds(
    Fee, st.builds(Percent, st.integers(0, 10**6)), st.builds(Money, st.integers(0, 500), st.just("EUR"))
)
offers = st.builds(simple_offer, titles, money, fees)


def document(**changes: Any) -> dict[str, Any]:
    line = {"key": "repair", "name": "Kite repair", "price": {"kind": "fixed", "amount": "24.00"}}
    return {"format": "cravik.offer/1", "title": "Kite repair", "currency": "EUR", "lines": [line]} | changes


class OfferDocumentTest(unittest.TestCase):
    @given(offers)
    def test_what_is_written_reads_back(self, offer: Offer) -> None:
        self.assertEqual(read_offer(json.loads(json.dumps(write_offer(offer)))), offer)

    def test_every_fault_is_told_at_once_with_its_place(self) -> None:
        faulty = document(colour="red", fee={"percent": "101", "fixed": "0.001"})
        faulty["lines"] = [{"key": "A b", "name": "", "price": {"kind": "fixed", "amount": 24, "was": "30"}}]
        with self.assertRaises(InvalidDocument) as refused:
            read_offer(faulty)
        self.assertEqual(
            {(fault.code, fault.at) for fault in refused.exception.faults},
            {
                ("unknown_key", "colour"),
                ("key_malformed", "lines[0].key"),
                ("text_length", "lines[0].name"),
                ("unknown_key", "lines[0].price.was"),
                ("amount_malformed", "lines[0].price.amount"),
                ("percent_malformed", "fee.percent"),
                ("amount_precision", "fee.fixed"),
            },
        )

    def test_what_is_no_offer_is_refused(self) -> None:
        line = document()["lines"][0]
        for value in (
            None,
            [],
            "offer",
            document(format="x"),
            document(currency="EURO"),
            document(lines=[]),
            document(lines=[line] * 2),
            document(lines=[line] * 21),
        ):
            with self.subTest(value), self.assertRaises(InvalidDocument) as refused:
                read_offer(value)
            self.assertTrue(refused.exception.faults)


class QuoteTest(unittest.TestCase):
    def test_a_fixed_price_with_a_fee(self) -> None:
        offer = simple_offer("Delta kite", Money(4800, "EUR"), Fee(Percent.from_text("1.5"), Money(25, "EUR")))
        self.assertEqual(
            write_quote(quote(offer)),
            {
                "format": "cravik.quote/1",
                "currency": "EUR",
                "lines": [
                    {
                        "key": "purpose",
                        "quantity": 1,
                        "unit": "48.00",
                        "amount": "48.00",
                        "discount": "0.00",
                        "tax": "0.00",
                        "total": "48.00",
                    }
                ],
                "subtotal": "48.00",
                "discount": "0.00",
                "delivery": "0.00",
                "tax": "0.00",
                "tax_lines": [],
                "fee_cover": "0.00",
                "total": "48.00",
                "due_now": "48.00",
                "schedule": [],
                "fee": "0.97",
                "net": "47.03",
            },
        )

    @given(offers)
    def test_parts_sum_to_the_whole(self, offer: Offer) -> None:
        quoted = quote(offer)
        self.assertEqual(sum((line.amount for line in quoted.lines), Money(0, "EUR")), quoted.total)
        self.assertEqual(quoted.fee + quoted.net, quoted.total)


class SentenceTest(unittest.TestCase):
    def test_each_phrase_names_what_it_is_about(self) -> None:
        phrases = sentence(simple_offer("Kite repair", Money(2400, "EUR")), "de")
        self.assertEqual("".join(phrase.text for phrase in phrases), "24,00\u00a0€ for Kite repair, paid once.")
        self.assertEqual([phrase.about for phrase in phrases], ["price", "", "purpose", ""])
