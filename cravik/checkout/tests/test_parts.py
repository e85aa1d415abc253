"""Every part of the page: what it shows, what it reads, and where its refusals stand."""

from __future__ import annotations

from typing import Any

import time_machine
from django.http import HttpResponse
from django.test import TestCase

from cravik.checkout.models import Checkout
from cravik.links.models import Link
from cravik.orders.models import Order
from tests.links import line, make_link
from tests.paying import filled_in, open_page, send
from tests.test_worked_offers import codes_in

LEVELS = {
    "kind": "levels",
    "levels": [{"key": "low", "name": "Low", "amount": "12"}, {"key": "high", "name": "High", "amount": "40"}],
}
SPAN = [{"name": "Span", "options": [{"name": "1.2 m", "add": "-6.00"}, {"name": "1.8 m"}]}]


class PartsTest(TestCase):
    def press(self, link: Link, **changes: str | None) -> HttpResponse:
        """The page as it was opened, with some fields otherwise, or left out where they are None."""
        form = open_page(self.client, link) | changes
        form = {name.replace("__", "."): value for name, value in form.items()}
        return send(self.client, link, {name: value for name, value in form.items() if value is not None})

    def refused(self, link: Link, **changes: str | None) -> dict[str, list[str]]:
        """The codes of what is refused, by field."""
        answer = self.press(link, **changes)
        self.assertEqual(answer.status_code, 400, answer.content.decode()[-500:])
        self.assertFalse(Order.objects.exists())
        return {name: codes for name, codes in codes_in(answer.content.decode()).items() if codes}

    def paid(self, answer: HttpResponse) -> Order:
        self.assertEqual(answer.status_code, 303, codes_in(answer.content.decode()))
        return Order.objects.latest("id")

    def test_quantity(self) -> None:
        link = make_link(line(quantity={"default": 2, "min": 2, "max": 5}))
        for typed, code in (
            ("", "quantity_missing"),
            ("two", "quantity_malformed"),
            ("2.5", "quantity_malformed"),
            ("9" * 30, "quantity_malformed"),
            ("1", "quantity_below_minimum"),
            ("-3", "quantity_below_minimum"),
            ("6", "quantity_above_maximum"),
        ):
            with self.subTest(typed):
                self.assertEqual(self.refused(link, quantity__kite=typed), {"quantity.kite": [code]})
        self.assertContains(self.press(link, quantity__kite="6"), "The most is 5.", status_code=400)
        changed = self.press(link, quantity__kite="3")
        self.assertContains(changed, "It comes to €72.00", status_code=409)
        self.assertEqual(self.paid(send(self.client, link, filled_in(changed))).paid.major, "72.00")

    def test_a_quantity_that_is_not_there_is_the_usual_one(self) -> None:
        link = make_link(line(quantity={"default": 2, "min": 1, "max": 5}))
        self.assertEqual(self.paid(self.press(link, quantity__kite=None)).paid.major, "48.00")

    def test_levels_and_options_are_never_filled_in_by_the_server(self) -> None:
        link = make_link(
            line(price=LEVELS, choices=[{"name": "Colour", "options": [{"name": "red"}, {"name": "blue"}]}])
        )
        self.assertEqual(
            self.refused(link, level__kite=None, option__kite__1=None),
            {"level.kite": ["level_missing"], "option.kite.1": ["option_missing"]},
        )
        self.assertEqual(
            self.refused(link, level__kite="none", option__kite__1="green"),
            {"level.kite": ["level_unknown"], "option.kite.1": ["option_unknown"]},
        )
        self.assertEqual(self.refused(link, option__kite__2="x"), {"": ["option_unknown"]})
        order = self.paid(self.press(link, seen_total="12.00", seen_now="12.00"))
        self.assertEqual((order.paid.major, order.checkout.line.picked), ("12.00", [("Kite", "red")]))

    def test_what_the_buyer_wants(self) -> None:
        price = {"kind": "open", "min": "5", "max": "50", "start": None}
        link = make_link(line(price=price))
        self.assertContains(self.client.get(link.path), "At least €5.00 and at most €50.00.")
        for typed, code in (
            ("", "amount_missing"),
            (None, "amount_missing"),
            ("x", "amount_malformed"),
            ("4.99", "amount_below_minimum"),
            ("-9", "amount_below_minimum"),
            ("50,01", "amount_above_maximum"),
            ("9.999", "amount_ambiguous"),
            ("9.9999", "amount_precision"),
        ):
            with self.subTest(typed):
                found = self.refused(link, amount__kite=typed)
                self.assertEqual(found, {"amount.kite": [code]})
        shown = self.press(link, amount__kite="7,50")
        self.assertContains(shown, "It comes to €7.50", status_code=409)
        self.assertEqual(self.paid(send(self.client, link, filled_in(shown))).paid.major, "7.50")

    def test_extras(self) -> None:
        link = make_link(
            line(), line("tail", "Tail", "3.50", optional=True, quantity={"default": 2, "min": 1, "max": 9})
        )
        self.assertContains(self.client.get(link.path), "€3.50")
        without = self.paid(self.press(link))
        self.assertEqual([each.key for each in without.checkout.quote.lines], ["kite"])
        seen = {"seen_total": "31.00", "seen_now": "31.00", "email": "b@dunes.example"}
        with_tail = self.paid(self.press(link, take__tail="yes", **seen))
        self.assertEqual(
            [(each.key, each.quantity) for each in with_tail.checkout.quote.lines], [("kite", 1), ("tail", 2)]
        )

    def test_nothing_chosen_of_extras_alone(self) -> None:
        link = make_link(line(optional=True), line("tail", "Tail", optional=True))
        self.assertContains(self.client.get(link.path), "Nothing is chosen yet.")
        self.assertEqual(self.refused(link), {"": ["nothing_chosen"]})
        self.assertContains(self.press(link), "Choose at least one thing.", status_code=400)

    def test_a_parcel_that_is_too_heavy_is_told_while_the_page_is_filled_in(self) -> None:
        charge = {"kind": "by_weight", "bands": [{"from_g": 0, "amount": "5"}], "most_g": 1000}
        zones = {"zones": [{"name": "Home", "countries": ["IE"], "charge": charge}]}
        link = make_link(
            line(ships=True, weight_g=400, quantity={"default": 1, "min": 1, "max": 9}), offer={"delivery": zones}
        )
        form = open_page(self.client, link) | {"quantity.kite": "3"}
        slip = self.client.post("/for/visit/slip/", form).json()["pieces"]["slip"]
        self.assertIn("too heavy to send: the most is 1,000 g.", slip)
        self.assertEqual(self.refused(link, quantity__kite="3"), {"": ["parcel_too_heavy"]})

    def test_a_code_takes_off_what_it_says_and_its_box_is_there_only_where_one_could_work(self) -> None:
        plain, link = make_link(), make_link(offer={"codes": [{"code": "Gust", "kind": "percent", "percent": "25"}]})
        self.assertNotContains(self.client.get(plain.path), 'name="code"')
        self.assertEqual(self.refused(link, code="breeze"), {"code": ["code_unknown"]})
        changed = self.press(link, code=" gUST ")
        self.assertContains(changed, "It comes to €18.00", status_code=409)
        order = self.paid(send(self.client, link, filled_in(changed, code="gust")))
        self.assertEqual((order.paid.major, order.code.normal), ("18.00", "gust"))

    def test_the_box_for_a_code_goes_when_none_could_work_any_more(self) -> None:
        codes = [{"code": "GUST", "kind": "percent", "percent": "50", "ends_on": "2026-11-24"}]
        link = make_link(line(), offer={"codes": codes}, code_rules={"gust": {"uses": 1}})
        for instant, is_there in (("2026-11-24T23:59", True), ("2026-11-25T00:00", False)):
            with self.subTest(instant), time_machine.travel(f"{instant}:00+00:00", tick=False):
                page = self.client.get(link.path)
                (self.assertContains if is_there else self.assertNotContains)(page, 'name="code"')
        with time_machine.travel("2026-11-24T12:00:00+00:00"):
            self.paid(send(self.client, link, filled_in(self.press(link, code="gust"), code="gust")))
            self.assertNotContains(self.client.get(link.path), 'name="code"')

    def test_what_is_left_at_a_price_is_told_where_the_seller_wants_it(self) -> None:
        steps = [{"line": "kite", "price": {"kind": "fixed", "amount": "30"}, "after_orders": 2}]
        silent = make_link(line(), steps=steps)
        telling = make_link(line(), steps=steps, page={"tells_left": True})
        self.assertNotContains(self.client.get(silent.path), "left at this price")
        for words in ("2 left at this price", "1 left at this price"):
            self.assertContains(self.client.get(telling.path), words)
            self.paid(self.press(telling, email=f"{words[0]}@dunes.example"))
        self.assertContains(self.client.get(telling.path), "€30.00")
        self.assertNotContains(self.client.get(telling.path), "left at this price")

    def test_the_slip_says_by_which_code_and_what_one_more_would_cost(self) -> None:
        breaks = [{"from": 1, "unit": "24"}, {"from": 3, "unit": "20"}]
        price = {"kind": "quantity", "method": "all_units", "breaks": breaks}
        codes = [{"code": "GUST", "kind": "percent", "percent": "10"}, {"code": "SENT", "kind": "free_delivery"}]
        link = make_link(line(price=price, quantity={"max": None}), offer={"codes": codes})
        form = open_page(self.client, link)
        pieces = self.client.post("/for/visit/slip/", form | {"code": "gust", "quantity.kite": "2"}).json()["pieces"]
        self.assertIn("10 % with GUST", pieces["slip"])
        self.assertIn("GUST takes off €4.80.", pieces["code-says"])
        self.assertEqual(pieces["quantity-kite"].strip(), "1 more, and each costs €20.00: 3 cost €60.00.")
        typed = {"code": "gust", "quantity.kite": "2"}
        order = self.paid(send(self.client, link, filled_in(self.press(link, **typed), **typed)))
        self.assertEqual((order.checkout.quote.code, str(order.checkout.quote.code_percent.text)), ("GUST", "10"))

    def test_own_questions_and_what_else_is_asked(self) -> None:
        link = make_link(
            asks={
                "phone": "required",
                "note": {"ask": "optional", "label": "For the maker"},
                "reference": {"ask": "optional"},
                "newsletter": "Tell me of new kites",
                "address": "optional",
                "invoice": "optional",
            },
            questions=[
                {"key": "tail", "kind": "short_text", "label": "Name on the tail", "longest": 5, "required": True},
                {"key": "colours", "kind": "several_of", "label": "Colours", "options": ["red", "blue"], "most": 1},
                {"key": "day", "kind": "day", "label": "When?", "earliest": "2026-12-01"},
                {"key": "sure", "kind": "yes_no", "label": "Sure?"},
                {"key": "guests", "kind": "number", "label": "Guests", "whole": True},
            ],
        )
        found = self.refused(
            link, **{"answer__tail": "Saltmarsh", "answer__day": "2026-11-30", "answer__guests": "1.5"}
        )
        self.assertEqual(
            found,
            {
                "phone": ["required"],
                "answer.tail": ["answer_too_long"],
                "answer.day": ["answer_too_early"],
                "answer.guests": ["answer_not_whole"],
            },
        )
        form = open_page(self.client, link) | {
            "phone": "+353 1 555",
            "note": "Blue, please",
            "newsletter": "yes",
            "company": "Dunes Ltd",
            "answer.tail": "Maren",
            "answer.colours": ["red"],
            "answer.sure": "no",
        }
        order = self.paid(send(self.client, link, form))
        said = {each["key"]: (each["label"], each["answer"]) for each in order.checkout.answers}
        self.assertEqual(
            said,
            {
                "phone": ("Phone", "+353 1 555"),
                "note": ("For the maker", "Blue, please"),
                "newsletter": ("Tell me of new kites", True),
                "tail": ("Name on the tail", "Maren"),
                "colours": ("Colours", ["red"]),
                "sure": ("Sure?", False),
            },
        )
        self.assertEqual(order.checkout.where["company"], "Dunes Ltd")
        self.assertIn("at", next(each for each in order.checkout.answers if each["key"] == "newsletter"))

    def test_what_no_field_of_the_page_asks_for_is_refused_by_name(self) -> None:
        link = make_link()
        self.assertEqual(
            self.refused(link, level__kite="x", amount__kite="9", plan="y", cover_fee="yes", quantity__bird="1"),
            {"": ["unknown_line", "level_unknown", "amount_not_wanted", "plan_unknown", "cover_not_offered"]},
        )

    def test_the_address_fills_in_what_it_may_and_what_cannot_be_had_is_left_out(self) -> None:
        link = make_link(
            line(quantity={"default": 1, "min": 1, "max": 5}, choices=SPAN),
            asks={"newsletter": "News", "phone": "optional"},
            offer={"codes": [{"code": "Gust", "kind": "percent", "percent": "25"}]},
        )
        query = "?quantity.kite=3&option.kite.1=1.8+m&code=gust&name=Maren&newsletter=yes&card_number=9000000000000019"
        page = self.client.get(f"{link.path}{query}")
        self.assertContains(page, "Pay €54.00")
        self.assertContains(page, 'value="Maren"')
        self.assertNotContains(page, "9000000000000019")
        self.assertNotRegex(page.content.decode(), 'name="newsletter"[^>]* checked')
        wrong = self.client.get(f"{link.path}?quantity.kite=99&code=none&option.kite.1=1.8+m")
        self.assertContains(wrong, "Pay €24.00")
        self.assertContains(wrong, "had a value for “How many” and “Discount code” that can")
        self.assertEqual(self.paid(send(self.client, link, filled_in(page, code="gust"))).paid.major, "54.00")

    def test_the_kept_basket_and_quote_say_it_all(self) -> None:
        link = make_link(line(choices=SPAN))
        self.paid(self.press(link))
        kept: Any = Checkout.objects.get().line
        self.assertEqual(kept.basket_document["lines"], [{"key": "kite", "options": {"Span": "1.2 m"}}])
        sold = kept.quote_document["lines"][0]
        self.assertEqual((sold["name"], sold["options"], sold["amount"]), ("Kite", ["1.2 m"], "18.00"))
