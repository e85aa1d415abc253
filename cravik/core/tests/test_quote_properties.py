"""What holds for every quote, whatever the offer and the basket."""

from __future__ import annotations

import unittest
from dataclasses import replace
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from itertools import pairwise

from hypothesis import assume, given
from hypothesis import strategies as st

from cravik.core.errors import BasketRefused
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.discounts import PercentCode
from cravik.core.pricing.fees import Fee
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.quote import Quote, quote
from cravik.core.pricing.schedule import DepositPlan, Every, FirstPayments, InstalmentsPlan, RepeatPlan, simple_plans
from cravik.core.pricing.shares import in_equal_parts, in_proportion
from cravik.core.pricing.tax import tax_on
from cravik.core.tests.offers import CURRENCY, baskets, days, every, offers, offers_with_baskets, percents, rates

Drawn = tuple[Offer, Basket]


def minor(amounts: list[Money]) -> int:
    return sum(amount.minor for amount in amounts)


class PartsSumToTheWholeTest(unittest.TestCase):
    @given(offers_with_baskets())
    def test_the_slip_adds_up(self, drawn: Drawn) -> None:
        offer, basket = drawn
        quoted = quote(offer, basket)
        self.assertEqual(minor([line.amount for line in quoted.lines]), quoted.subtotal.minor)
        self.assertEqual(minor([line.discount for line in quoted.lines]), quoted.discount.minor)
        self.assertEqual(minor([row.amount for row in quoted.tax_lines]), quoted.tax.minor)
        self.assertEqual(quoted.net + quoted.fee, quoted.total)
        for line in quoted.lines:
            self.assertTrue(0 <= line.discount.minor <= line.amount.minor)
            if line.unit is not None:
                self.assertEqual(line.unit.minor * line.quantity, line.amount.minor)

    @given(offers_with_baskets())
    def test_the_total_is_what_the_rule_says(self, drawn: Drawn) -> None:
        offer, basket = drawn
        quoted = quote(offer, basket)
        before_tax = quoted.subtotal.minor - quoted.discount.minor + quoted.delivery.minor + quoted.fee_cover.minor
        if offer.tax is None or not offer.tax.prices_include_tax:
            self.assertEqual(quoted.total.minor, before_tax + quoted.tax.minor)
        elif basket.tax_number is None:
            self.assertEqual(quoted.total.minor, before_tax)
        else:
            self.assertTrue(before_tax - quoted.total.minor >= 0)

    @given(offers_with_baskets())
    def test_what_is_due_now_and_later_is_the_total(self, drawn: Drawn) -> None:
        offer, basket = drawn
        quoted = quote(offer, basket)
        plan = simple_plans(offer.plan)[0]
        later = [payment.amount for payment in quoted.schedule]
        if isinstance(plan, RepeatPlan):
            at_first = plan.first.payments if plan.first else 0
            at_first -= 0 if plan.trial else 1
            for same in (later[: max(at_first, 0)], later[max(at_first, 0) :]):
                self.assertLessEqual(len({amount.minor for amount in same}), 1)
            if plan.trial is None:
                self.assertEqual(quoted.due_now, quoted.total)
        else:
            self.assertEqual(quoted.due_now.minor + minor(later), quoted.total.minor)
        if isinstance(plan, InstalmentsPlan):
            parts = [quoted.due_now.minor, *(amount.minor for amount in later)]
            self.assertEqual(parts, sorted(parts, reverse=True))
            self.assertLessEqual(parts[0] - parts[-1], 1)
        if isinstance(plan, DepositPlan) and plan.amount is not None:
            all_now = plan.rest_on is not None and plan.rest_on <= basket.on
            deposit = quoted.total.minor if all_now else min(plan.amount.minor, quoted.total.minor)
            self.assertEqual(quoted.due_now.minor, deposit)

    def test_what_is_free_after_its_first_payments_stays_free(self) -> None:
        first = FirstPayments(2, {"club": FixedPrice(Money(500, "EUR"))})
        plan = RepeatPlan(Every(1, "month"), 4, first=first)
        offer = Offer("Club", "EUR", (Line("club", "Club", FixedPrice(Money(0, "EUR"))),), plan=plan)
        quoted = quote(offer, Basket(date(2026, 11, 30)))
        sums = [quoted.due_now, *(payment.amount for payment in quoted.schedule)]
        self.assertEqual([each.minor for each in sums], [500, 500, 0, 0])

    @given(st.integers(0, 10**15), st.lists(st.integers(0, 10**9), min_size=1, max_size=20))
    def test_shares_sum_up_and_lie_within_one_of_their_exact_part(self, whole: int, weights: list[int]) -> None:
        assume(sum(weights))
        parts = in_proportion(whole, weights)
        self.assertEqual(sum(parts), whole)
        for part, weight in zip(parts, weights, strict=True):
            self.assertLess(abs(part * sum(weights) - whole * weight), sum(weights))

    @given(st.integers(0, 10**15), st.integers(1, 1200))
    def test_equal_parts_sum_up(self, whole: int, count: int) -> None:
        self.assertEqual((sum(in_equal_parts(whole, count)), len(in_equal_parts(whole, count))), (whole, count))


class OrderTest(unittest.TestCase):
    @given(offers_with_baskets(), st.randoms(use_true_random=False))
    def test_the_order_of_lines_changes_no_sum(self, drawn: Drawn, chance: st.DataObject) -> None:
        offer, basket = drawn
        shuffled = list(offer.lines)
        chance.shuffle(shuffled)  # type: ignore[attr-defined]
        one, other = quote(offer, basket), quote(replace(offer, lines=tuple(shuffled)), basket)
        self.assertEqual((one.subtotal, one.discount, one.delivery), (other.subtotal, other.discount, other.delivery))


class DiscountTest(unittest.TestCase):
    @given(st.data(), percents, percents)
    def test_without_tax_and_delivery_a_higher_discount_never_raises_the_total(
        self, data: st.DataObject, one: Percent, other: Percent
    ) -> None:
        offer = data.draw(offers(delivery=st.none(), tax=st.none()))
        basket = replace(data.draw(baskets(offer)), code="GUST")
        low, high = sorted((one.ten_thousandths, other.ten_thousandths))
        totals = [
            quote(replace(offer, codes=(PercentCode("GUST", Percent(percent)),)), basket).total.minor
            for percent in (low, high)
        ]
        self.assertGreaterEqual(totals[0], totals[1])

    @given(offers_with_baskets())
    def test_a_code_never_makes_anything_negative(self, drawn: Drawn) -> None:
        quoted = quote(drawn[0], replace(drawn[1], code="GUST"))
        for amount in (quoted.total, quoted.due_now, quoted.delivery, *(line.total for line in quoted.lines)):
            self.assertGreaterEqual(amount.minor, 0)


class TaxTest(unittest.TestCase):
    @given(st.integers(0, 10**12), st.lists(rates, max_size=4), st.booleans())
    def test_included_tax_and_net_are_the_gross(self, gross: int, some: list, reverse: bool) -> None:
        taxed = tax_on(gross, some, included=True, reverse=reverse)
        self.assertEqual(taxed.base + taxed.tax + taxed.reversed, gross)

    @given(st.integers(0, 10**12), st.lists(rates, min_size=1, max_size=4))
    def test_the_net_is_rounded_half_up(self, gross: int, some: list) -> None:
        exact = Decimal(gross) / (1 + sum(Decimal(rate.percent.text) for rate in some) / 100)
        base = tax_on(gross, some, included=True, reverse=False).base
        self.assertEqual(base, int(exact.quantize(Decimal(1), ROUND_HALF_UP)))


class FeeCoverTest(unittest.TestCase):
    @given(st.integers(0, 10**12), st.integers(0, 999_999), st.integers(0, 10**6))
    def test_the_covered_total_is_the_smallest_that_suffices(self, wanted: int, percent: int, fixed: int) -> None:
        fee = Fee(Percent(percent), Money(fixed, CURRENCY), buyer_may_cover=True)
        aim, cent = Money(wanted, "EUR"), Money(1, "EUR")
        covered = fee.covered(aim)
        self.assertGreaterEqual(covered - fee.on(covered), aim)
        if covered:
            self.assertLess(covered - cent - fee.on(covered - cent), aim)


class ScheduleTest(unittest.TestCase):
    @given(days, every, st.integers(1, 30))
    def test_dates_are_those_of_the_rule_for_any_start(self, start: date, step: Every, count: int) -> None:
        dates = [start, *step.dates(start, count)]
        self.assertEqual(len(dates), count + 1)
        for number, on in enumerate(dates):
            if step.unit in ("day", "week"):
                self.assertEqual((on - start).days, number * step.count * (7 if step.unit == "week" else 1))
                continue
            months = number * step.count * (12 if step.unit == "year" else 1)
            self.assertEqual((on.year - start.year) * 12 + on.month - start.month, months)
            is_month_end = (on + timedelta(days=1)).month != on.month
            self.assertTrue(on.day == start.day or (on.day < start.day and is_month_end))
        self.assertTrue(all(before < after for before, after in pairwise(dates)))

    def test_a_long_trial_of_a_club_with_a_joining_line(self) -> None:
        self.assertEqual(
            list(Every(1, "month").dates(date(2028, 1, 31), 3)),
            [date(2028, 2, 29), date(2028, 3, 31), date(2028, 4, 30)],
        )


class RefusalsTest(unittest.TestCase):
    @given(st.data())
    def test_every_refusal_is_reported_with_the_others(self, data: st.DataObject) -> None:
        offer = data.draw(offers())
        basket = data.draw(baskets(offer))
        faults = {
            "unknown_line": lambda: replace(basket, lines=(*basket.lines, BasketLine("no-such-line"))),
            "repeated_line": lambda: replace(basket, lines=(*basket.lines, BasketLine("line0"))),
            "quantity_below_minimum": lambda: replace(
                basket, lines=(replace(basket.lines[0], quantity=0), *basket.lines[1:])
            ),
            "option_unknown": lambda: replace(
                basket, lines=(*basket.lines[:-1], replace(basket.lines[-1], options={"Colour": "red"}))
            ),
            "code_unknown": lambda: replace(basket, code="BREEZE"),
            "plan_unknown": lambda: replace(basket, plan="never"),
            "cover_not_offered": lambda: replace(basket, cover_fee=True),
            "unknown_key": lambda: replace(basket, unknown_keys=("coed",)),
        }
        chosen = data.draw(st.sets(st.sampled_from(sorted(faults)), min_size=1))
        if "cover_not_offered" in chosen:
            offer = replace(offer, fee=None)
        for code in sorted(chosen):
            basket = faults[code]()
        with self.assertRaises(BasketRefused) as refused:
            quote(offer, basket)
        self.assertLessEqual(chosen, {fault.code for fault in refused.exception.faults})


class AnyQuoteTest(unittest.TestCase):
    @given(offers_with_baskets())
    def test_it_is_the_same_every_time(self, drawn: Drawn) -> None:
        first: Quote = quote(*drawn)
        self.assertEqual(first, quote(*drawn))
