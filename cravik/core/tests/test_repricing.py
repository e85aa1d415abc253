"""Prices that are raised or lowered, and what they end in."""

from __future__ import annotations

from fractions import Fraction
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.pricing.money import Money
from cravik.core.pricing.repricing import NotRepriced, ending_in
from cravik.core.tests.refusing import refused_with

NONE, HALF, LESS = Fraction(0), Fraction(1, 2), Fraction(95, 100)


class EndingTest(TestCase):
    def test_the_nearest_price_that_ends_so_is_taken_and_never_nothing(self) -> None:
        for amount, ending, rounded in (
            ("25.20", NONE, "25.00"),
            ("25.50", NONE, "26.00"),
            ("25.20", HALF, "25.50"),
            ("25.00", HALF, "25.50"),
            ("24.99", HALF, "24.50"),
            ("25.20", LESS, "24.95"),
            ("25.45", LESS, "25.95"),
            ("0.20", NONE, "1.00"),
            ("0.10", LESS, "0.95"),
            ("0.40", HALF, "0.50"),
        ):
            self.assertEqual(ending_in(Money.parse(amount, "EUR"), ending).major, rounded, (amount, ending))
        self.assertEqual(ending_in(Money.parse("25.2", "KWD"), LESS).major, "24.950")
        self.assertEqual(ending_in(Money.parse("2520", "JPY"), NONE).major, "2520")
        with refused_with(self, NotRepriced, "JPY has no amounts that end so."):
            ending_in(Money.parse("2520", "JPY"), LESS)

    @given(st.integers(1, 10**7), st.sampled_from((NONE, HALF, LESS)))
    def test_none_that_ends_so_lies_nearer(self, minor: int, ending: Fraction) -> None:
        rounded, part = ending_in(Money(minor, "EUR"), ending).minor, int(ending * 100)
        self.assertEqual(rounded % 100, part)
        others = [each for each in range(part, minor + 200, 100) if each > 0]
        self.assertEqual(abs(rounded - minor), min(abs(each - minor) for each in others))
