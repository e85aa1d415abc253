from __future__ import annotations

import json
import time
import unittest
from datetime import date
from typing import Any

from hypothesis import given

from cravik.core.documents.basket import read_basket
from cravik.core.documents.cases import answer_line
from cravik.core.documents.json_text import read_json
from cravik.core.documents.offer import read_offer, write_offer
from cravik.core.errors import BasketRefused, InvalidDocument
from cravik.core.pricing.fees import Fee
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer, simple_offer
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.quote import quote
from cravik.core.tests.offers import offers
from cravik.core.tests.refusing import refused_with
from cravik.core.text.faults import fault_words

CLUB = {"kind": "repeat", "every": {"count": 1, "unit": "month"}}


def line(**changes: Any) -> dict[str, Any]:
    return {"key": "kite", "name": "Kite", "price": {"kind": "fixed", "amount": "24.00"}} | changes


def document(*lines: dict[str, Any], **changes: Any) -> dict[str, Any]:
    sold = list(lines) or [line()]
    return {"format": "cravik.offer/1", "title": "Kites", "currency": "EUR", "lines": sold} | changes


def basket(**changes: Any) -> dict[str, Any]:
    return {"format": "cravik.basket/1", "on": "2026-11-23"} | changes


def faults_of(value: object) -> set[tuple[str, str]]:
    """The codes and places of what is wrong with an offer."""
    try:
        read_offer(value)
    except InvalidDocument as refused:
        assert all(fault_words(fault) for fault in refused.faults)
        return {(fault.code, fault.at) for fault in refused.faults}
    return set()


class OfferDocumentTest(unittest.TestCase):
    @given(offers())
    def test_what_is_written_reads_back(self, offer: Offer) -> None:
        self.assertEqual(read_offer(json.loads(json.dumps(write_offer(offer)))), offer)

    def test_what_has_its_default_is_not_written(self) -> None:
        offer = simple_offer("Kite repair", Money(2400, "EUR"), Fee(Percent(15_000), Money(25, "EUR")))
        self.assertEqual(
            write_offer(offer),
            {
                "format": "cravik.offer/1",
                "title": "Kite repair",
                "currency": "EUR",
                "lines": [
                    {"key": "purpose", "name": "Kite repair", "price": {"kind": "fixed", "amount": "24.00"}},
                ],
                "fee": {"percent": "1.5", "fixed": "0.25"},
            },
        )

    def test_every_fault_is_told_at_once_with_its_place(self) -> None:
        faulty = document(
            line(key="A b", name="", price={"kind": "fixed", "amount": 24, "colour": "red"}),
            line(price={"kind": "open", "min": "5.001", "max": "1e9"}),
            colour="red",
            fee={"percent": "101", "fixed": "0.001"},
            plan={"kind": "repeat", "every": {"count": 0, "unit": "fortnight"}},
            delivery={"zones": [{"name": "Home", "countries": ["Ireland"], "charge": {"kind": "balloon"}}]},
            window={"opens_at": "2026-11-23T09:00:00"},
        )
        self.assertEqual(
            faults_of(faulty),
            {
                ("unknown_key", "colour"),
                ("invalid_document", "lines[0].key"),
                ("invalid_document", "lines[0].name"),
                ("unknown_key", "lines[0].price.colour"),
                ("invalid_document", "lines[0].price.amount"),
                ("invalid_document", "lines[1].price.min"),
                ("invalid_document", "lines[1].price.max"),
                ("invalid_document", "fee.percent"),
                ("invalid_document", "fee.fixed"),
                ("invalid_document", "plan.every.count"),
                ("invalid_document", "plan.every.unit"),
                ("invalid_document", "delivery.zones[0].countries[0]"),
                ("invalid_document", "delivery.zones[0].charge"),
                ("invalid_document", "window.opens_at"),
            },
        )

    def test_what_contradicts_itself_is_refused_at_its_place(self) -> None:
        size = {"name": "Size", "options": [{"name": "S", "add": "-24.01"}, {"name": "M"}]}
        open_price = {"kind": "open", "min": "5.00", "max": "10.00"}
        breaks = [{"from": 1, "unit": "2.00"}, {"from": 1, "unit": "1.00"}]
        by_value = {"kind": "by_value", "bands": [{"from": "5.00", "amount": "1.00"}]}
        zone = {"name": "Home", "countries": ["IE"], "charge": by_value}
        percent_off = {"code": "GUST", "kind": "percent", "percent": "10"}
        to_price = {"code": "TO", "kind": "unit_price", "line": "kite", "unit": "1.00"}
        for at, value in {
            "lines[1].key": document(line(), line()),
            "lines[0].choices": document(line(choices=[size])),
            "lines[0].choices[0].options[0].add": document(line(price=open_price, choices=[size])),
            "lines[0].choices[1].name": document(line(choices=[size, size])),
            "lines[0].price.start": document(line(price=open_price | {"start": "4.99"})),
            "lines[0].price.suggested[1]": document(line(price=open_price | {"suggested": ["5.00", "10.01"]})),
            "lines[0].price.max": document(line(price=open_price | {"max": "4.00"})),
            "lines[0].price.breaks[1].from": document(
                line(price={"kind": "quantity", "method": "all_units", "breaks": breaks})
            ),
            "lines[0].price.levels": document(line(price={"kind": "levels", "levels": []})),
            "lines[0].quantity.max": document(line(quantity={"min": 5, "default": 5})),
            "lines[0].quantity.default": document(line(quantity={"default": 4, "max": 3})),
            "plan": document(line(once=True), plan=CLUB),
            "plan.payments": document(plan=CLUB | {"every": {"count": 1, "unit": "year"}, "payments": 101}),
            "codes[1].code": document(codes=[percent_off, percent_off | {"code": " gust "}]),
            "codes[0].percent": document(codes=[percent_off | {"percent": "100.0001"}]),
            "codes[0].lines[0]": document(codes=[percent_off | {"lines": ["box"]}]),
            "codes[0].line": document(line(price=open_price), codes=[to_price]),
            "delivery.zones[0].charge.bands[0].from": document(delivery={"zones": [zone]}),
            "fee.percent": document(fee={"percent": "100", "fixed": "0", "buyer_may_cover": True}),
            "currency": document(currency="XAU"),
            "format": document(format="cravik.offer/2"),
            "lines": document(lines=[]),
        }.items():
            with self.subTest(at):
                self.assertEqual(faults_of(value), {("invalid_document", at)})

    def test_a_deposit_is_named_in_one_way(self) -> None:
        for deposit in ({}, {"percent": "20", "amount": "5.00"}):
            plan = {"kind": "deposit", "rest_after_days": 30} | deposit
            self.assertEqual(faults_of(document(plan=plan)), {("invalid_document", "plan")})

    def test_what_is_no_object_is_refused(self) -> None:
        for value in (None, [], "offer", 7, {}):
            with self.subTest(value):
                self.assertTrue(faults_of(value))


class BasketDocumentTest(unittest.TestCase):
    def test_unknown_keys_are_refused_with_everything_else(self) -> None:
        offer = read_offer(document())
        typed = basket(
            coed="GUST",
            lines=[{"key": "kite", "quantity": 2, "colour": "red"}],
            destination={"country": "IE", "county": "Kerry"},
            cover_fee=True,
        )
        with self.assertRaises(BasketRefused) as refused:
            quote(offer, read_basket(typed))
        self.assertEqual(
            [(fault.code, fault.at) for fault in refused.exception.faults],
            [
                ("unknown_key", "coed"),
                ("unknown_key", "destination.county"),
                ("unknown_key", "lines[0].colour"),
                ("quantity_above_maximum", "lines[0].quantity"),
                ("cover_not_offered", "cover_fee"),
            ],
        )

    def test_a_value_of_another_type_is_a_fault_of_the_document(self) -> None:
        for at, typed in {
            "on": basket(on="23.11.2026"),
            "on ": basket(on="9999-12-31"),
            "lines[0].quantity": basket(lines=[{"key": "kite", "quantity": "2"}]),
            "lines[0].amount": basket(lines=[{"key": "kite", "amount": "5,00"}]),
            "pay_now": basket(pay_now=5),
            "destination.country": basket(destination={"country": "Ireland"}),
            "cover_fee": basket(cover_fee="no"),
        }.items():
            with self.subTest(at), self.assertRaises(InvalidDocument) as refused:
                read_basket(typed)
            self.assertEqual([fault.at for fault in refused.exception.faults], [at.strip()])

    def test_what_is_missing_or_null_is_not_picked(self) -> None:
        read = read_basket(basket(code=None, lines=[{"key": "kite", "quantity": None}], destination=None))
        self.assertEqual(
            (read.on, read.code, read.lines[0].quantity, read.destination), (date(2026, 11, 23), None, None, None)
        )


class RefusalTest(unittest.TestCase):
    def refused(self, offer: dict[str, Any], **picked: Any) -> list[tuple[str, str, str | int | None]]:
        with self.assertRaises(BasketRefused) as refused:
            quote(read_offer(offer), read_basket(basket(**picked)))
        return [(fault.code, fault.at, fault.limit) for fault in refused.exception.faults]

    def test_amounts_are_held_against_their_bounds(self) -> None:
        offer = document(line(price={"kind": "open", "min": "5.00", "max": None}))
        for amount, expected in {
            "4.99": ("amount_below_minimum", "lines[0].amount", "5.00"),
            "-6": ("amount_below_minimum", "lines[0].amount", "5.00"),
            "5.001": ("amount_precision", "lines[0].amount", None),
            "10000000000000.01": ("amount_above_maximum", "lines[0].amount", "10000000000000.00"),
            "9" * 40: ("amount_above_maximum", "lines[0].amount", "10000000000000.00"),
        }.items():
            with self.subTest(amount):
                self.assertEqual(self.refused(offer, lines=[{"key": "kite", "amount": amount}]), [expected])

    def test_an_order_beyond_all_bounds_is_refused(self) -> None:
        offer = document(line(quantity={"max": None}, price={"kind": "fixed", "amount": "9999999999.99"}))
        many = [{"key": "kite", "quantity": 1_000_000_000}]
        self.assertEqual(self.refused(offer, lines=many), [("quantity_above_maximum", "lines[0].quantity", None)])

    def test_what_nothing_asks_for_is_refused(self) -> None:
        picked = {"key": "kite", "level": "half", "amount": "5.00", "options": {"Size": "S"}}
        self.assertEqual(
            self.refused(document(), lines=[picked], plan="parts", pay_now="5.00"),
            [
                ("option_unknown", "lines[0].options.Size", None),
                ("level_unknown", "lines[0].level", None),
                ("amount_not_wanted", "lines[0].amount", None),
                ("plan_unknown", "plan", None),
                ("amount_not_wanted", "pay_now", None),
            ],
        )

    def test_what_is_paid_now_lies_between_deposit_and_total(self) -> None:
        offer = document(plan={"kind": "deposit", "percent": "50", "rest_after_days": 9, "buyer_may_pay_more": True})
        for typed, limit in {"11.99": "12.00", "24.01": "24.00", "9" * 30: "24.00"}.items():
            with self.subTest(typed):
                self.assertEqual(self.refused(offer, pay_now=typed), [("pay_now_out_of_range", "pay_now", limit)])
        self.assertEqual(self.refused(offer, pay_now="12.001"), [("amount_precision", "pay_now", None)])

    def test_a_code_counts_for_what_it_names(self) -> None:
        extra = line(key="ribbon", optional=True)
        off = {"code": "GUST", "kind": "percent", "percent": "10", "lines": ["ribbon"], "ends_on": "2026-11-22"}
        offer = document(line(), extra, codes=[off])
        self.assertEqual(
            self.refused(offer, code="gust"), [("code_ended", "code", None), ("code_not_eligible", "code", None)]
        )


class HostileJsonTest(unittest.TestCase):
    def test_it_is_refused_with_a_sentence_and_in_bounded_time(self) -> None:
        begun = time.monotonic()
        for what, text in {
            "no JSON": '{"a": }',
            "nested deeper": "[" * 100_000 + "]" * 100_000,
            "levels": "[" * 40 + "]" * 40,
            "NaN is no number": '{"a": NaN}',
            "Infinity is no number": "[-Infinity]",
            "digits": "[" + "9" * 5000 + "]",
            "stands twice": '{"amount": "1", "amount": "2"}',
            "lone surrogate": '{"a": "\\ud800"}',
            "longer than": '"' + "x" * 2_000_001 + '"',
        }.items():
            with self.subTest(what), refused_with(self, InvalidDocument, what):
                read_json(text)
        with refused_with(self, InvalidDocument, "UTF-8"):
            read_json(b'"\xff"')
        self.assertLess(time.monotonic() - begun, 5)

    def test_a_million_breaks_are_too_long_and_a_thousand_too_many(self) -> None:
        rows = ", ".join(f'{{"from": {number}, "unit": "1"}}' for number in range(1, 1_000_001))
        with refused_with(self, InvalidDocument, "longer than"):
            read_json(f'{{"breaks": [{rows}]}}')
        breaks = [{"from": number, "unit": "1"} for number in range(1, 10_001)]
        price = {"kind": "quantity", "method": "incremental", "breaks": breaks}
        self.assertEqual(faults_of(document(line(price=price))), {("invalid_document", "lines[0].price.breaks")})

    def test_amounts_that_are_no_amounts(self) -> None:
        for amount in (
            "1e9",
            "NaN",
            "Infinity",
            "9" * 40,
            "1.",
            ".5",
            "",
            "٢٤",
            "+1",
            " 1",
            "1_000",
            24,
            24.5,
            None,
            True,
        ):
            with self.subTest(amount):
                price = {"kind": "fixed", "amount": amount}
                self.assertEqual(
                    faults_of(document(line(price=price))), {("invalid_document", "lines[0].price.amount")}
                )
        too_much = {"kind": "fixed", "amount": "10000000000000.01"}
        self.assertEqual(faults_of(document(line(price=too_much))), {("invalid_document", "lines[0].price.amount")})

    def test_a_faulty_line_of_a_batch_gives_its_row(self) -> None:
        for text in (b"", b"7", b"{", b'{"id": "x"}', b"\xff"):
            with self.subTest(text):
                row, is_quoted = answer_line(text)
                self.assertFalse(is_quoted)
                self.assertEqual({error["code"] for error in row["errors"]}, {"invalid_document"})
        row = answer_line(json.dumps({"id": 5, "offer": document(colour=1), "basket": basket()}).encode()).row
        self.assertEqual((row["id"], row["errors"][0]["code"], row["errors"][0]["at"]), (5, "unknown_key", "colour"))
