from __future__ import annotations

import unittest
from operator import add, ge, gt, le, lt, sub

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.errors import CoreError
from cravik.core.pricing.currency import minor_digits, payable_currencies
from cravik.core.pricing.fees import Fee
from cravik.core.pricing.money import MAX_MINOR, Money, total_of
from cravik.core.pricing.percent import Percent, rounded_ratio
from cravik.core.tests.refusing import refused_with
from cravik.core.text.money_text import format_money, format_money_clearly

currencies = st.sampled_from(["EUR", "JPY", "BHD", "CLF", "MGA"])
amounts = st.builds(Money, st.integers(-MAX_MINOR, MAX_MINOR), currencies)


class MoneyTest(unittest.TestCase):
    @given(amounts)
    def test_what_is_written_reads_back(self, money: Money) -> None:
        self.assertEqual(Money.parse(money.major, money.currency), money)

    @given(st.lists(st.integers(-MAX_MINOR, MAX_MINOR), max_size=5))
    def test_it_adds_compares_and_negates_as_its_minor_units_do(self, minors: list[int]) -> None:
        amounts = [Money(minor, "EUR") for minor in minors]
        self.assertEqual(total_of(amounts, "EUR"), Money(sum(minors), "EUR"))
        self.assertEqual([money.minor for money in sorted(amounts)], sorted(minors))
        self.assertEqual([(-money).minor for money in amounts], [-minor for minor in minors])
        self.assertEqual([abs(money).minor for money in amounts], [abs(minor) for minor in minors])

    def test_two_currencies_have_no_sum_and_neither_is_more(self) -> None:
        euro, yen = Money(1, "EUR"), Money(1, "JPY")
        for act in (add, sub, lt, le, gt, ge):
            with self.subTest(act.__name__), self.assertRaisesRegex(ValueError, "EUR and JPY"):
                act(euro, yen)
        with self.assertRaisesRegex(ValueError, "EUR and JPY"):
            total_of([euro, yen], "EUR")
        self.assertNotEqual(euro, yen)

    def test_minor_digits_are_those_of_iso_4217(self) -> None:
        exceptions = {
            "JPY": 0,
            "KRW": 0,
            "ISK": 0,
            "UGX": 0,
            "CLP": 0,
            "VND": 0,
            "BHD": 3,
            "IQD": 3,
            "TND": 3,
            "KWD": 3,
        }
        exceptions |= {"CLF": 4, "UYW": 4, "EUR": 2, "USD": 2, "AFN": 2, "MGA": 2, "RSD": 2}
        self.assertEqual({code: minor_digits(code) for code in exceptions}, exceptions)

    def test_what_is_no_currency_is_refused(self) -> None:
        for code in ("eur", "XXX", "XAU", "ABC", "", "EUROS", "ЕUR"):
            with self.subTest(code), refused_with(self, CoreError, "no currency code of ISO 4217"):
                minor_digits(code)

    def test_units_of_account_are_offered_to_nobody(self) -> None:
        self.assertIn("EUR", payable_currencies())
        self.assertNotIn("CLF", payable_currencies())

    def test_documents_write_amounts_plainly(self) -> None:
        cases = {
            "1e9": "malformed",
            "٤٨": "malformed",
            "1,5": "malformed",
            " 1": "malformed",
            "": "malformed",
            "NaN": "malformed",
        }
        cases |= {"1.005": "precision", "9" * 40: "too_large", "9" * 41: "malformed", "Infinity": "malformed"}
        for text, why in cases.items():
            with self.subTest(text), self.assertRaises(CoreError) as refused:
                Money.parse(text, "EUR")
            self.assertEqual(refused.exception.faults[0].code, f"amount_{why}")

    def test_two_currencies_are_never_summed(self) -> None:
        with self.assertRaises(ValueError):
            Money(1, "EUR") + Money(1, "GBP")


class PercentTest(unittest.TestCase):
    def test_halves_round_away_from_zero(self) -> None:
        cases = [((5, 10), 1), ((-5, 10), -1), ((4, 10), 0), ((15, 10), 2), ((-15, 10), -2), ((0, 7), 0)]
        for (above, below), expected in cases:
            self.assertEqual(rounded_ratio(above, below), expected)

    def test_percentages_out_of_bounds_are_refused(self) -> None:
        for text in ("100.0001", "-1", "1.23456", "", "1e1", "½"):
            with self.subTest(text), self.assertRaises(CoreError):
                Percent.parse(text)

    @given(st.integers(0, 1_000_000), st.integers(0, MAX_MINOR))
    def test_a_share_and_its_rest_are_the_whole(self, part: int, minor: int) -> None:
        share = Percent(part).of(minor)
        self.assertLessEqual(abs(2 * (share * 1_000_000 - minor * part)), 1_000_000)
        self.assertTrue(0 <= share <= minor)

    @given(st.integers(0, 1_000_000))
    def test_what_is_written_reads_back(self, part: int) -> None:
        self.assertEqual(Percent.parse(Percent(part).text), Percent(part))


class FeeTest(unittest.TestCase):
    def test_nothing_is_charged_on_nothing(self) -> None:
        fee = Fee(Percent.parse("1.5"), Money(25, "EUR"))
        self.assertEqual(fee.on(Money(0, "EUR")), Money(0, "EUR"))
        self.assertEqual(fee.on(Money(100, "EUR")), Money(27, "EUR"))


class MoneyTextTest(unittest.TestCase):
    def test_figures_follow_the_locale_and_the_standards_digits(self) -> None:
        cases = [
            (Money(123456, "EUR"), "en", "€1,234.56"),
            (Money(123456, "EUR"), "de", "1.234,56\u00a0€"),
            (Money(123456, "JPY"), "en", "¥123,456"),
            (Money(4805, "BHD"), "en", "BHD\u00a04.805"),
            (Money(4805, "MGA"), "en", "MGA\u00a048.05"),
            (Money(4805, "USD"), "en_CA", "US$48.05"),
        ]
        for money, locale, expected in cases:
            with self.subTest(money):
                self.assertEqual(format_money(money, locale), expected)

    def test_a_sign_of_several_currencies_has_its_code_beside_it(self) -> None:
        for currency, locale, figures in (
            ("EUR", "de", "48,00\xa0€"),
            ("GBP", "en", "£48.00"),
            ("USD", "en", "$48.00 (USD)"),
            ("USD", "en-AU", "USD\xa048.00"),
            ("AUD", "en-AU", "$48.00 (AUD)"),
            ("AUD", "en", "A$48.00"),
            ("SEK", "sv", "48,00\xa0kr (SEK)"),
            ("PLN", "en", "PLN\xa048.00"),
        ):
            self.assertEqual(format_money_clearly(Money(4800, currency), locale), figures, (currency, locale))
        self.assertEqual(format_money_clearly(Money(4800, "JPY"), "en"), "¥4,800 (JPY)")
