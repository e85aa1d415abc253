from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.errors import AmountRefused
from cravik.core.pricing.money import Money
from cravik.core.tests.refusing import refused_with
from cravik.core.text.amount_text import parse_amount
from cravik.core.text.faults import fault_words
from cravik.core.text.money_text import format_money

READ = [
    ("48", "EUR", 4800),
    ("48.5", "EUR", 4850),
    ("48,50", "EUR", 4850),
    (".50", "EUR", 50),
    (" € 1 234,50 ", "EUR", 123450),
    ("1,234.50", "EUR", 123450),
    ("1.234,50", "EUR", 123450),
    ("1'234.50", "EUR", 123450),
    ("12,34,567.50", "EUR", 123456750),
    ("1.234.567", "EUR", 123456700),
    ("1\u202f234,50", "EUR", 123450),
    ("48 eur", "EUR", 4800),
    ("EUR48", "EUR", 4800),
    ("$48", "USD", 4800),
    ("$48", "CAD", 4800),
    ("¥1,234", "JPY", 1234),
    ("1.234", "BHD", 1234),
    ("٤٨٫٥٠", "EUR", 4850),
    ("４８", "EUR", 4800),
    ("१२३", "EUR", 12300),
    ("48 €\u200f", "EUR", 4800),
]
REFUSED = [
    ("", "EUR", "amount_missing"),
    ("   ", "EUR", "amount_missing"),
    ("0", "EUR", "amount_zero"),
    ("0.00", "EUR", "amount_zero"),
    ("-3", "EUR", "amount_negative"),
    ("−3", "EUR", "amount_negative"),
    ("1,234", "EUR", "amount_ambiguous"),
    ("1.234", "EUR", "amount_ambiguous"),
    ("1.234", "JPY", "amount_ambiguous"),
    ("48.0055", "EUR", "amount_precision"),
    ("0.005", "EUR", "amount_precision"),
    ("1.5", "JPY", "amount_precision"),
    ("9" * 40, "EUR", "amount_too_large"),
    ("9" * 400, "EUR", "amount_malformed"),
    ("1e9", "EUR", "amount_malformed"),
    ("NaN", "EUR", "amount_malformed"),
    ("1,2,3", "EUR", "amount_malformed"),
    ("<b>4</b>", "EUR", "amount_malformed"),
    ("ten", "EUR", "amount_malformed"),
    ("48 USD", "EUR", "amount_other_currency"),
    ("$48", "EUR", "amount_other_currency"),
    ("£48", "EUR", "amount_other_currency"),
    ("€48", "USD", "amount_other_currency"),
    ("Ⅷ", "EUR", "amount_malformed"),
    ("½", "EUR", "amount_malformed"),
]


class ReadAmountTest(unittest.TestCase):
    def test_amounts_are_read_as_people_mean_them(self) -> None:
        for typed, currency, minor in READ:
            with self.subTest(typed):
                self.assertEqual(parse_amount(typed, currency), Money(minor, currency))

    def test_what_cannot_be_taken_says_why(self) -> None:
        for typed, currency, code in REFUSED:
            with self.subTest(typed), self.assertRaises(AmountRefused) as refused:
                parse_amount(typed, currency, at="price")
            fault = refused.exception.faults[0]
            self.assertEqual((fault.code, fault.at), (code, "price"))
            self.assertTrue(fault_words(fault).endswith("."))

    def test_an_ambiguous_amount_is_told_with_both_readings(self) -> None:
        with refused_with(self, AmountRefused, r"Write 1234 for the larger sum, 1\.23 for the smaller\."):
            parse_amount("1,234", "EUR")

    @given(st.integers(1, 10**13), st.sampled_from(["en", "de", "fr", "hi", "de_CH", "pl", "ar_EG"]))
    def test_what_the_screens_show_can_be_typed_back(self, minor: int, locale: str) -> None:
        money = Money(minor, "EUR")
        self.assertEqual(parse_amount(format_money(money, locale), "EUR"), money)

    @given(st.text(max_size=80))
    def test_any_text_is_an_amount_or_a_sentence(self, typed: str) -> None:
        try:
            self.assertGreater(parse_amount(typed, "EUR").minor, 0)
        except AmountRefused as refused:
            self.assertTrue(fault_words(refused.faults[0]))
