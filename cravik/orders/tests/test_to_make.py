"""What is to be made: counted by item and options, ticked off by several, and nothing of others'."""

from __future__ import annotations

import re
from unittest import mock

from django.test import TestCase

from cravik.orders.models import Order, TickedLine
from tests.factories import MembershipFactory
from tests.links import line, make_link
from tests.paying import pay_as_it_comes

SPAN = {"name": "Span", "options": [{"name": "1.2 m"}, {"name": "1.8 m"}]}


class ToMakeTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        many = {"default": 1, "min": 1, "max": 9}
        kite = line("kite", "Delta kite", "48.00", choices=[SPAN], quantity=many, ships=True)
        question = {"key": "tail", "kind": "short_text", "label": "Name on the tail"}
        link = make_link(kite, business=self.member.business, questions=[question])
        for number, (pieces, span) in enumerate(((2, "1.8 m"), (1, "1.2 m"), (3, "1.8 m"))):
            typed = {"quantity.kite": str(pieces), "option.kite.1": span, "answer.tail": f"Tail <{number}>"}
            pay_as_it_comes(self.client, link, email=f"b{number}@dunes.example", **typed)
        self.client.force_login(self.member.user)

    def batches(self, query: str = "") -> list[tuple[str, int, int, list[int]]]:
        """Of each: the options, the pieces, those that are left, and the orders' numbers."""
        found = self.client.get(f"/orders/to-make/{query}").context["batches"]
        return [(each.options, each.pieces, each.left, [of.order.number for of in each.of]) for each in found]

    def keys(self) -> list[str]:
        html = self.client.get("/orders/to-make/").content.decode()
        return re.findall(r'name="shown" value="([^"]+)"', html)[0].split()

    def test_pieces_are_counted_by_item_and_options(self) -> None:
        self.assertEqual(self.batches(), [("1.8 m", 5, 5, [1001, 1003]), ("1.2 m", 1, 1, [1002])])
        page = self.client.get("/orders/to-make/")
        self.assertContains(page, "6 of 6 pieces still to make, for 3 orders. Each of them is to do.")
        self.client.post(f"/orders/{Order.objects.get(number=1003).pk}/stage/", {"stage": "done"})
        self.assertEqual(self.batches(), [("1.8 m", 2, 2, [1001]), ("1.2 m", 1, 1, [1002])])
        self.assertEqual(self.batches("?state=done"), [("1.8 m", 3, 3, [1003])])
        self.assertEqual(self.batches("?state=&q=1002"), [("1.2 m", 1, 1, [1002])])
        self.assertContains(self.client.get("/orders/to-make/?place=NO"), "Nothing is to be made")

    def test_two_tick_off_at_once_and_only_what_each_was_shown(self) -> None:
        first, second, third = self.keys()
        self.client.post("/orders/to-make/", {"shown": f"{first} {second}", "ticked": [first]})
        self.client.post("/orders/to-make/", {"shown": third, "ticked": [third, second]})
        self.assertEqual([f"{each.order_id}:{each.line}" for each in TickedLine.objects.order_by("id")], [first, third])
        self.assertEqual(self.batches(), [("1.8 m", 5, 3, [1001, 1003]), ("1.2 m", 1, 0, [1002])])
        for _ in range(2):
            self.client.post("/orders/to-make/", {"shown": f"{first} {third}", "ticked": [third]})
        self.assertEqual([f"{each.order_id}:{each.line}" for each in TickedLine.objects.all()], [third])

    def test_forged_keys_and_those_of_others_are_passed_over(self) -> None:
        first = self.keys()[0]
        for key in ("x", "1:", f"{first}x", "9" * 40 + ":kite", "-1:kite", "1:kite:kite", ":kite", "²:kite"):
            self.client.post("/orders/to-make/", {"shown": key, "ticked": [key]})
        self.client.force_login(MembershipFactory().user)
        self.client.post("/orders/to-make/", {"shown": first, "ticked": [first]})
        self.assertFalse(TickedLine.objects.exists())

    def test_what_is_laid_out_is_no_more_than_a_form_takes(self) -> None:
        with mock.patch("cravik.orders.to_make.MAX_ROWS", 2):
            page = self.client.get("/orders/to-make/")
        self.assertContains(page, "1 newer order is not laid out here.")
        self.assertEqual(sum(len(batch.of) for batch in page.context["batches"]), 2)
