"""What goes back of a payment: within what was paid by line, by rate and in sum, in however many parts it goes back."""

from __future__ import annotations

import unittest
from collections.abc import Sequence
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.documents.offer import read_offer
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import quote, work_out
from cravik.core.pricing.refunds import (
    RefundRows,
    RefundShares,
    fee_of_refund,
    left_to_give_back,
    rows_of_refund,
    share_of_pieces,
    share_out,
)
from cravik.core.pricing.rows import PaymentRows, rows_of, rows_of_quote
from cravik.core.pricing.tax import Place
from cravik.core.tests.offers import offers_with_baskets

ON = date(2026, 11, 23)


def worked() -> PaymentRows:
    """Three kites at 19.99 and two pattern books at 7.25, 23 % and 9 % within, 6.00 of delivery, by hand:
    59.97 (11.21 tax), 14.50 (1.20), 6.00 (1.12): 80.47, of which 12.33 and 1.20."""
    offer = read_offer(
        {
            "format": "cravik.offer/1",
            "title": "Kites",
            "currency": "EUR",
            "lines": [
                {
                    "key": "kite",
                    "name": "Kite",
                    "price": {"kind": "fixed", "amount": "19.99"},
                    "quantity": {"default": 1, "min": 1, "max": 9},
                    "ships": True,
                },
                {
                    "key": "book",
                    "name": "Book",
                    "price": {"kind": "fixed", "amount": "7.25"},
                    "quantity": {"default": 1, "min": 1, "max": 9},
                    "tax_category": "books",
                },
            ],
            "delivery": {
                "zones": [{"name": "Home", "countries": ["IE"], "charge": {"kind": "flat", "amount": "6.00"}}]
            },
            "tax": {
                "seller_country": "IE",
                "prices_include_tax": True,
                "rates": [
                    {"country": "IE", "name": "VAT", "percent": "23"},
                    {"country": "IE", "name": "VAT", "percent": "9", "categories": ["books"]},
                ],
            },
            "fee": {"percent": "1.5", "fixed": "0.25"},
        }
    )
    basket = Basket(ON, (BasketLine("kite", 3), BasketLine("book", 2)), destination=Place("IE"))
    return rows_of_quote(quote(offer, basket), ON)


def taxes(rows: RefundRows) -> list[tuple[str, str, str]]:
    return [(row.percent.text, row.base.major, row.amount.major) for row in rows.tax_lines]


class RefundsTest(unittest.TestCase):
    def test_by_hand_two_kites_then_the_rest(self) -> None:
        rows = worked()
        self.assertEqual([row.amount.major for row in rows.tax_lines], ["12.33", "1.20"])
        first = share_of_pieces(rows, [], {}, {"kite": 2})
        self.assertEqual(first, RefundShares({"kite": 3998}))
        found = rows_of_refund(rows, [], first)
        # 11.21 × 39.98 ÷ 59.97 = 7.4733…
        self.assertEqual((found.total.major, found.tax.major), ("39.98", "7.47"))
        self.assertEqual(taxes(found), [("23", "32.51", "7.47"), ("9", "0.00", "0.00")])
        rest = share_of_pieces(rows, [first], {"kite": 2}, {"kite": 1, "book": 2}, delivery=True)
        self.assertEqual(rest, RefundShares({"kite": 1999, "book": 1450}, 600))
        found = rows_of_refund(rows, [first], rest)
        self.assertEqual(taxes(found), [("23", "21.13", "4.86"), ("9", "13.30", "1.20")])
        # 1.5 % of 80.47 is 1.21, and 0.25: 1.46; of 39.98 half of it, less a little.
        self.assertEqual(fee_of_refund(rows, [], first).major, "0.73")
        self.assertEqual(fee_of_refund(rows, [first], rest).major, "0.73")

    def test_an_amount_is_shared_over_what_is_left(self) -> None:
        rows = worked()
        shares = share_out(rows, [RefundShares({"kite": 5997})], 1000)
        self.assertEqual(shares, RefundShares({"book": 707}, 293))  # 14.50 : 6.00
        with self.assertRaises(ValueError):
            share_out(rows, [RefundShares({"kite": 5997})], 2051)

    def test_three_pieces_of_ten_cents_go_back_one_by_one(self) -> None:
        bundles = {"kind": "bundles", "unit": "0.04", "bundles": [{"count": 3, "amount": "0.10"}]}
        beads = {"key": "bead", "name": "Beads", "price": bundles, "quantity": {"default": 1, "min": 1, "max": 9}}
        offer = read_offer({"format": "cravik.offer/1", "title": "Beads", "currency": "EUR", "lines": [beads]})
        rows = rows_of_quote(quote(offer, Basket(ON, (BasketLine("bead", 3),))), ON)
        earlier: list[RefundShares] = []
        for number in range(3):
            earlier.append(share_of_pieces(rows, earlier, {"bead": number}, {"bead": 1}))
        self.assertEqual([each.total for each in earlier], [3, 4, 3])

    def test_what_is_not_there_is_refused(self) -> None:
        rows = worked()
        for gone, wanted in (({}, {"kite": 4}), ({"kite": 3}, {"kite": 1}), ({}, {"kite": -1}), ({}, {"tail": 1})):
            with self.subTest(gone=gone, wanted=wanted), self.assertRaises(ValueError):
                share_of_pieces(rows, [], gone, wanted)
        for shares in (
            RefundShares({"kite": 5998}),
            RefundShares({"tail": 1}),
            RefundShares({}, 601),
            RefundShares({}, 0, 1),
        ):
            with self.subTest(shares), self.assertRaises(ValueError):
                rows_of_refund(rows, [], shares)

    @given(offers_with_baskets(), st.data())
    def test_parts_never_exceed_what_was_paid_and_the_last_takes_the_rest(
        self, drawn: tuple[Offer, Basket], data: st.DataObject
    ) -> None:
        for rows in rows_of(work_out(*drawn))[:2]:
            earlier: list[RefundShares] = []
            found: list[RefundRows] = []
            fees = []
            for _ in range(data.draw(st.integers(0, 5))):
                left = left_to_give_back(rows, earlier).total
                shares = share_out(rows, earlier, data.draw(st.integers(0, left)))
                self.assert_adds_up(rows, earlier, shares, found, fees)
            self.assert_adds_up(rows, earlier, left_to_give_back(rows, earlier), found, fees)
            self.assertEqual(sum(fees), rows.fee.minor if rows.total else 0)
            self.assertEqual(sum(each.total.minor for each in found), rows.total.minor)
            for place, row in enumerate(rows.tax_lines):
                self.assertEqual(sum(each.tax_lines[place].amount.minor for each in found), row.amount.minor)
                self.assertEqual(sum(each.tax_lines[place].base.minor for each in found), row.base.minor)
            for line in rows.lines:
                back = [each for refund in found for each in refund.lines if each.key == line.key]
                self.assertEqual(sum(each.total.minor for each in back), line.total.minor)

    def assert_adds_up(
        self,
        rows: PaymentRows,
        earlier: list[RefundShares],
        shares: RefundShares,
        found: list[RefundRows],
        fees: list[int],
    ) -> None:
        """Nothing in it is below zero, and it is the sum of its parts."""
        refund = rows_of_refund(rows, earlier, shares)
        parts = [*(each.total for each in refund.lines), refund.delivery, refund.cover]
        self.assertEqual(sum(each.minor for each in parts), refund.total.minor)
        self.assertEqual(sum(row.amount.minor for row in refund.tax_lines), refund.tax.minor)
        sums: Sequence[int] = [row.minor for line in refund.tax_lines for row in (line.base, line.amount)]
        self.assertGreaterEqual(min([0, *sums, *(each.minor for each in parts)]), 0)
        fee = fee_of_refund(rows, earlier, shares).minor
        self.assertGreaterEqual(fee, 0)
        found.append(refund)
        fees.append(fee)
        earlier.append(shares)
