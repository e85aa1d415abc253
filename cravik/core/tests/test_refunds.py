"""What of refunds is tax: within what was paid, by each rate and in sum, in however many parts it goes back."""

from __future__ import annotations

import unittest
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.refunds import tax_of_refund


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
        before, seen = euros(0), [(euros(0), euros(0)) for _ in lines]
        for minor in [*wanted, paid.minor]:
            amount = euros(min(minor, paid.minor - before.minor))
            found = tax_of_refund(paid, lines, before, amount)
            before += amount
            seen = [(net + row.base, tax + row.amount) for (net, tax), row in zip(seen, found, strict=True)]
            self.assertLessEqual(sum(row.base.minor + row.amount.minor for row in found), amount.minor + len(lines))
            for (net, tax), line, row in zip(seen, lines, found, strict=True):
                self.assertGreaterEqual(row.amount.minor, 0)
                self.assertTrue(0 <= tax.minor <= line.amount.minor and 0 <= net.minor <= line.base.minor)
                exact = Fraction(line.amount.minor * before.minor, paid.minor or 1)
                self.assertLessEqual(abs(tax.minor - exact), Fraction(1, 2))
        self.assertEqual(seen, [(line.base, line.amount) for line in lines])

    @given(payments(), st.data())
    def test_one_rate_that_holds_for_all_of_it_leaves_nothing_beside(
        self, payment: tuple[Money, list[TaxLine]], data: st.DataObject
    ) -> None:
        (line, *_) = payment[1]
        paid = line.base + line.amount
        before = euros(data.draw(st.integers(0, paid.minor)))
        amount = euros(data.draw(st.integers(0, paid.minor - before.minor)))
        (row,) = tax_of_refund(paid, [line], before, amount)
        self.assertEqual(row.base + row.amount, amount)

    def test_by_hand(self) -> None:
        line = TaxLine("VAT", Percent.parse("23"), euros(1951), euros(449))
        for before, amount, tax in ((0, 2400, 449), (0, 500, 94), (500, 500, 93), (1000, 1400, 262), (2400, 0, 0)):
            (row,) = tax_of_refund(euros(2400), [line], euros(before), euros(amount))
            self.assertEqual(row.amount.minor, tax, (before, amount))

    def test_more_than_was_paid_is_refused(self) -> None:
        for before, amount in ((0, 2401), (2400, 1), (-1, 1), (1, -1)):
            with self.assertRaises(ValueError):
                tax_of_refund(euros(2400), [], euros(before), euros(amount))
