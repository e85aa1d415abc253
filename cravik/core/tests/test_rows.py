"""Each payment has rows of its own, which add up by themselves and, of one sum in parts, to the whole."""

from __future__ import annotations

import json
import unittest
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.documents.basket import read_basket
from cravik.core.documents.offer import read_offer
from cravik.core.documents.rows import write_rows
from cravik.core.errors import BasketRefused
from cravik.core.pricing.basket import Basket
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import Workings, work_out
from cravik.core.pricing.rows import PaymentRows, rows_of
from cravik.core.pricing.schedule import DepositPlan, Every, InstalmentsPlan, RepeatPlan
from cravik.core.tests.offers import offers_with_baskets

DATA = Path(__file__).parent / "data" / "worked-rows.ndjson"


class RowsTest(unittest.TestCase):
    maxDiff = None

    def test_worked_examples(self) -> None:
        for text in DATA.read_text(encoding="utf-8").splitlines():
            case = json.loads(text)
            with self.subTest(case["id"]):
                work = work_out(read_offer(case["offer"]), read_basket(case["basket"]))
                self.assertEqual(write_rows(rows_of(work), work.quote.currency), case["rows"])

    @given(offers_with_baskets())
    def test_every_row_adds_up_by_itself(self, drawn: tuple[Offer, Basket]) -> None:
        work = work_out(*drawn)
        rows = rows_of(work)
        due = [work.quote.due_now, *(later.amount for later in work.quote.schedule)]
        self.assertEqual([each.total for each in rows], due)
        for each in rows:
            self.assert_adds_up(each, work)

    @given(offers_with_baskets(), st.integers(2, 7), st.integers(0, 100_000))
    def test_one_sum_in_parts_adds_up_to_the_whole(
        self, drawn: tuple[Offer, Basket], payments: int, deposit: int
    ) -> None:
        offer, basket = drawn
        for plan in (
            InstalmentsPlan(Every(1, "month"), payments),
            DepositPlan(rest_after_days=9, percent=None, amount=Money(deposit, offer.currency)),
        ):
            try:
                work = work_out(replace(offer, plan=plan), replace(basket, plan=None, pay_now=None))
            except BasketRefused:
                continue
            rows, whole = rows_of(work), work.payment
            for each in rows:
                self.assert_adds_up(each, work)
            for place, line in enumerate(whole.lines):
                parts = [each.lines[place] for each in rows]
                summed = [_sum(parts, lambda part, name=name: getattr(part, name)) for name in _OF_LINE]
                expected = [line.pick.amount, line.discount, line.tax, line.total]
                self.assertEqual(summed, [each.minor for each in expected])
            self.assertEqual(_sum(rows, lambda each: each.delivery), whole.delivery.minor)
            self.assertEqual(_sum(rows, lambda each: each.fee_cover), whole.fee_cover.minor)
            for place, row in enumerate(whole.tax_lines):
                taxed = [each.tax_lines[place] for each in rows]
                self.assertEqual({(each.name, each.percent) for each in taxed}, {(row.name, row.percent)})
                self.assertEqual(_sum(taxed, lambda each: each.amount), row.amount.minor)
                self.assertEqual(_sum(taxed, lambda each: each.base), row.base.minor)

    def assert_adds_up(self, each: PaymentRows, work: Workings) -> None:
        """Nothing is below zero, a row is the sum of its parts, and tax stands in or on top as the offer says."""
        parts = [each.delivery, each.delivery_total, each.fee_cover, each.tax]
        for line in each.lines:
            parts += [line.amount, line.discount, line.tax, line.total]
            self.assertLessEqual(line.discount, line.amount)
        for row in each.tax_lines:
            parts += [row.base, row.amount]
        self.assertGreaterEqual(min(part.minor for part in parts), 0)
        lines = _sum(each.lines, lambda line: line.total)
        self.assertEqual(lines + each.delivery_total.minor + each.fee_cover.minor, each.total.minor)
        self.assertEqual(_sum(each.tax_lines, lambda row: row.amount), each.tax.minor)
        self.assertEqual(each.net + each.fee, each.total)
        tax = work.given.offer.tax
        if tax is None or not tax.prices_include_tax:
            before = _sum(each.lines, lambda line: line.amount) - _sum(each.lines, lambda line: line.discount)
            self.assertEqual(before + each.delivery.minor + each.fee_cover.minor + each.tax.minor, each.total.minor)

    def test_a_plan_without_an_end_has_rows_for_what_it_lists(self) -> None:
        case = json.loads(DATA.read_text(encoding="utf-8").splitlines()[5])
        offer = replace(read_offer(case["offer"]), plan=RepeatPlan(Every(1, "month")))
        self.assertEqual(len(rows_of(work_out(offer, read_basket(case["basket"])))), 13)


_OF_LINE = ("amount", "discount", "tax", "total")


def _sum(of: Sequence[object], which: Callable[..., object]) -> int:
    return sum(which(each).minor for each in of)  # type: ignore[attr-defined]
