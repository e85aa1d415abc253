"""What of refunds is tax: within what was paid, by each rate and in sum, in however many parts it goes back."""

from __future__ import annotations

import unittest
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.refunds import tax_of_refunds


def euros(minor: int) -> Money:
    return Money(minor, "EUR")


@st.composite
def payments(draw: st.DrawFn) -> tuple[Money, list[TaxLine]]:
    """A payment and its rates; a part of it may hold no tax."""
    nets = draw(st.lists(st.integers(0, 500_00), min_size=1, max_size=4))
    percents = draw(st.lists(st.sampled_from(["0", "5.5", "9", "13.5", "23"]), min_size=len(nets), max_size=len(nets)))
    lines = [
        TaxLine(f"VAT {place}", Percent.parse(percent), euros(net), euros(Percent.parse(percent).of(net)))
        for place, (net, percent) in enumerate(zip(nets, percents, strict=True))
    ]
    gross = sum(line.base.minor + line.amount.minor for line in lines)
    return euros(gross + draw(st.integers(0, 100_00))), lines


class RefundTaxTest(unittest.TestCase):
    @given(payments(), st.lists(st.integers(0, 200_00), max_size=8))
    def test_parts_never_exceed_what_was_paid_and_the_last_takes_the_rest(
        self, payment: tuple[Money, list[TaxLine]], wanted: list[int]
    ) -> None:
        paid, lines = payment
        refunded, before = 0, [0 for _ in lines]
        for minor in [*wanted, paid.minor]:
            refunded = min(refunded + minor, paid.minor)
            found = tax_of_refunds(paid, lines, euros(refunded))
            for row, line, earlier in zip(found, lines, before, strict=True):
                self.assertTrue(earlier <= row.amount.minor <= line.amount.minor)
                self.assertTrue(0 <= row.base.minor <= line.base.minor)
                exact = Fraction(line.amount.minor * refunded, paid.minor or 1)
                self.assertLessEqual(abs(row.amount.minor - exact), Fraction(1, 2))
            before = [row.amount.minor for row in found]
        self.assertEqual(found, tuple(lines))

    @given(payments(), st.data())
    def test_one_rate_that_holds_for_all_of_it_leaves_nothing_beside(
        self, payment: tuple[Money, list[TaxLine]], data: st.DataObject
    ) -> None:
        (line, *_) = payment[1]
        paid = line.base + line.amount
        refunded = euros(data.draw(st.integers(0, paid.minor)))
        (row,) = tax_of_refunds(paid, [line], refunded)
        self.assertEqual(row.base + row.amount, refunded)

    def test_by_hand(self) -> None:
        line = TaxLine("VAT", Percent.parse("23"), euros(1951), euros(449))
        for refunded, tax in ((0, 0), (500, 94), (1000, 187), (2400, 449)):
            (row,) = tax_of_refunds(euros(2400), [line], euros(refunded))
            self.assertEqual(row.amount.minor, tax, refunded)

    def test_more_than_was_paid_is_refused(self) -> None:
        for refunded in (2401, -1):
            with self.assertRaises(ValueError):
                tax_of_refunds(euros(2400), [], euros(refunded))
