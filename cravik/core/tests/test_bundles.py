"""Bundles: the least of all ways, what the page says of one more, and what an offer of them may not be."""

from __future__ import annotations

import unittest
from datetime import date
from fractions import Fraction
from functools import cache

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.documents.link import read_link
from cravik.core.documents.offer import read_offer
from cravik.core.errors import InvalidDocument
from cravik.core.pricing.advice import advise
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.money import Money, total_of
from cravik.core.pricing.offer import Quantity
from cravik.core.pricing.price import Bundle, BundlesPrice, FixedPrice, PacksPrice, Wanted
from cravik.core.pricing.quote import quote
from cravik.core.pricing.repricing import Change, NotRepriced, changed_price
from cravik.core.tests.test_documents import document, line
from cravik.core.text.explanation import explain
from cravik.core.text.faults import fault_words
from cravik.core.text.hints import quantity_hint, tariff_words
from cravik.core.text.slip import slip_rows

EUR = "EUR"
RIBBON = BundlesPrice(Money(200, EUR), (Bundle(3, Money(500, EUR)), Bundle(10, Money(1200, EUR))))
sizes = st.dictionaries(st.integers(2, 9), st.integers(0, 999), max_size=4)


def price_of(unit: int, drawn: dict[int, int]) -> BundlesPrice:
    """With bundles that cost less than their pieces do singly."""
    rows = [Bundle(count, Money(min(amount, unit * count - 1), EUR)) for count, amount in sorted(drawn.items())]
    return BundlesPrice(Money(unit, EUR), tuple(rows))


def tried(price: BundlesPrice, quantity: int) -> int:
    """The least over all ways, tried one by one."""

    @cache
    def least(left: int) -> int:
        if not left:
            return 0
        ways = [(1, price.unit.minor), *((each.count, each.amount.minor) for each in price.bundles)]
        return min(amount + least(left - count) for count, amount in ways if count <= left)

    return least(quantity)


def refused(price: dict[str, object], **more: object) -> list[tuple[str, str]]:
    try:
        read_offer(document(lines=[line(price={"kind": "bundles"} | price, quantity={"max": 100}) | more]))
    except InvalidDocument as invalid:
        return [(fault.at, fault_words(fault)) for fault in invalid.faults]
    return []


class LeastTest(unittest.TestCase):
    @given(st.integers(1, 400), sizes, st.integers(1, 40))
    def test_it_is_the_least_of_all_ways_and_what_it_is_made_of_adds_up(
        self, unit: int, drawn: dict[int, int], quantity: int
    ) -> None:
        price = price_of(unit, drawn)
        priced = price.on(Wanted(quantity, Money(7, EUR)))
        self.assertEqual(priced.amount.minor, tried(price, quantity) + 7 * quantity)
        if priced.made_of:
            self.assertEqual(sum(part.number * part.size for part in priced.made_of), quantity)
            self.assertEqual(total_of((part.amount * part.number for part in priced.made_of), EUR), priced.amount)
        else:
            self.assertEqual(priced.unit, Money(unit + 7, EUR))

    @given(st.integers(1, 400), sizes, st.integers(2, 9), st.integers(0, 999), st.integers(1, 40))
    def test_a_sum_never_rises_when_a_bundle_is_added(
        self, unit: int, drawn: dict[int, int], count: int, amount: int, quantity: int
    ) -> None:
        more = price_of(unit, drawn | {count: min(amount, drawn.get(count, amount))})
        self.assertLessEqual(more.on(Wanted(quantity)).amount, price_of(unit, drawn).on(Wanted(quantity)).amount)

    @given(st.integers(1, 400), sizes, st.integers(1, 30))
    def test_where_more_pieces_cost_less_the_page_says_so(
        self, unit: int, drawn: dict[int, int], quantity: int
    ) -> None:
        price = price_of(unit, drawn)
        sums = [tried(price, pieces) for pieces in range(40)]
        said = quantity_hint(price, Quantity(1, 1, 39), quantity) if price.bundles else ""
        if (
            price.bundles
            and min(sums[quantity + 1 : quantity + 1 + price.bundles[-1].count], default=10**9) < sums[quantity]
        ):
            self.assertIn(f"cost less than {quantity}:", said)
        elif price.bundles:
            self.assertIn("One more costs", said)


class WordsTest(unittest.TestCase):
    def test_what_one_more_would_cost(self) -> None:
        bounds = Quantity(1, 1, 12)
        for quantity, said in (
            (1, "One more costs €2.00: 2 are €4.00."),
            (2, "One more costs €1.00: 3 are €5.00."),
            (8, "10 cost less than 8: €12.00."),
            (10, "One more costs €2.00: 11 are €14.00."),
            (12, ""),
        ):
            self.assertEqual(quantity_hint(RIBBON, bounds, quantity), said)

    def test_what_so_many_cost_is_said_where_that_is_no_multiple(self) -> None:
        self.assertEqual(tariff_words(RIBBON), "€2.00 each, 3 for €5.00 or 10 for €12.00")
        self.assertEqual(tariff_words(PacksPrice(6, Money(1450, EUR))), "€14.50 a pack of 6")
        self.assertEqual(tariff_words(FixedPrice(Money(200, EUR))), "")

    def test_the_slip_and_the_explanation_say_what_it_is_made_of(self) -> None:
        sold = line(
            price={"kind": "bundles", "unit": "2", "bundles": [{"count": 3, "amount": "5"}]}, quantity={"max": 20}
        )
        offer, basket = read_offer(document(lines=[sold])), Basket(date(2026, 11, 30), (BasketLine(sold["key"], 7),))
        self.assertEqual(slip_rows(quote(offer, basket))[0].detail, "2 × 3 for €5.00, 1 × €2.00")
        self.assertEqual(slip_rows(quote(offer, basket), "de")[0].detail, "2 × 3 for 5,00\u00a0€, 1 × 2,00\u00a0€")
        self.assertIn("7 come to the least as 2 bundles of 3 at 5.00 and 1 single at 2.00.", explain(offer, basket)[0])

    def test_a_careful_friend_speaks_of_bundles_that_are_of_no_use(self) -> None:
        rows = [
            {"count": 3, "amount": "5"},
            {"count": 6, "amount": "11"},
            {"count": 10, "amount": "12"},
            {"count": 50, "amount": "40"},
        ]
        sold = line(price={"kind": "bundles", "unit": "2", "bundles": rows}, quantity={"max": 20})
        told = {fault.code: (fault.at, fault_words(fault)) for fault in advise(read_offer(document(lines=[sold])))}
        self.assertEqual(told["bundle_never_used"][0], "lines[0].price.bundles[1].amount")
        self.assertEqual(told["bundle_out_of_reach"][0], "lines[0].price.bundles[3].count")
        self.assertEqual(told["more_for_less"][1], "10 cost 12.00 EUR, 8 cost 14.00 EUR.")

    def test_it_is_repriced_piece_by_piece_while_it_saves(self) -> None:
        dearer = changed_price(RIBBON, Change(amount=Money(10, EUR)))
        self.assertEqual(
            dearer, BundlesPrice(Money(210, EUR), (Bundle(3, Money(530, EUR)), Bundle(10, Money(1300, EUR))))
        )
        penny = BundlesPrice(Money(2, EUR), (Bundle(2, Money(3, EUR)),))
        with self.assertRaises(NotRepriced):
            changed_price(penny, Change(percent=Fraction(-50)))


class RefusedTest(unittest.TestCase):
    def test_each_with_its_path_and_what_would_do(self) -> None:
        at = "lines[0].price.bundles"
        for rows, where, words in (
            ([{"count": 3, "amount": "6"}], f"{at}[0].amount", "3 cost 6.00 singly; a bundle of them costs less."),
            (
                [{"count": 3, "amount": "5"}, {"count": 3, "amount": "4"}],
                f"{at}[1].count",
                "Each bundle has more pieces",
            ),
            ([{"count": 1, "amount": "1"}], f"{at}[0].count", "greater than or equal to 2"),
            ([{"count": 1001, "amount": "1"}], f"{at}[0].count", "less than or equal to 1000"),
            ([], at, "at least 1 item"),
        ):
            ((found, message),) = refused({"unit": "2", "bundles": rows})
            self.assertEqual(found, where)
            self.assertIn(words, message)
        good = {"unit": "2", "bundles": [{"count": 3, "amount": "5"}]}
        self.assertEqual(refused(good), [])
        for most in (None, 1001):
            ((found, message),) = refused(good, quantity={"max": most})
            self.assertEqual(
                (found, message), ("lines[0].quantity.max", "At a price in bundles the most is 1,000 or fewer.")
            )
        later = {"line": "kite", "after_orders": 1, "price": {"kind": "bundles"} | good}
        sold = {
            "format": "cravik.link/1",
            "name": "K",
            "offer": document(lines=[line(quantity={"max": None})]),
            "steps": [later],
        }
        with self.assertRaises(InvalidDocument) as wrong:
            read_link(sold)
        self.assertEqual([fault.at for fault in wrong.exception.faults], ["steps[0].price"])
        choices = [{"name": "Size", "options": [{"name": "S", "add": "-1.90"}, {"name": "L"}]}]
        self.assertEqual(refused(good, choices=choices)[0][0], "lines[0].choices")
