"""Pieces go back: what they come to is agreed to, stock and places come back as ticked and once, a code's use never."""

from __future__ import annotations

import re
from typing import Any

from django.test import Client, TestCase
from django.utils import timezone

from cravik.links.models import LinePieces, LinkCode, LinkTally
from cravik.orders.models import Order, OrderSettings
from cravik.orders.refunding import RefundWish, TooFewPieces, refund_order
from cravik.payments.models import Refund
from cravik.payments.ways import present_ways
from tests.factories import BY, MembershipFactory, make_item
from tests.links import line, make_link
from tests.paying import pay_as_it_comes


class PiecesBackTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        business = self.member.business
        self.item = make_item(business, "Delta kite", code="DELTA")
        self.item.variants.update(count=10)
        kite = line("kite", "Delta kite", "10", quantity={"default": 3, "min": 1, "max": 5})
        tail = line("tail", "Tail ribbon", "3.35", quantity={"default": 2, "min": 1, "max": 5})
        offer = {"codes": [{"code": "WIND", "kind": "percent", "percent": "10"}], "fee": {"percent": "2", "fixed": "0"}}
        self.link = make_link(kite, tail, business=business, offer=offer, items={"kite": "DELTA"}, limits={"orders": 5})
        pay_as_it_comes(Client(), self.link, code="wind")
        self.order = Order.objects.get()  # 36.70 less 3.67: 27.00 and 6.03
        self.client.force_login(self.member.user)
        self.page = f"/orders/{self.order.number}/refund/"

    def counts(self) -> tuple[int | None, int, int, int, int]:
        """Of stock, of the link's orders, of both lines' pieces, and of the code's uses."""
        pieces = dict(LinePieces.objects.values_list("line", "paid"))
        stock = self.item.variants.get().count
        return stock, LinkTally.objects.get().paid, pieces["kite"], pieces["tail"], LinkCode.objects.get().paid

    def sent(self, **typed: str) -> Any:
        page = self.client.get(self.page).content.decode()
        hidden = dict(re.findall(r'<input type="hidden" name="(\w+)" value="([^"]*)"', page))
        return self.client.post(self.page, hidden | {"amount": "", "note": "", "why": ""} | typed, follow=True)

    def test_what_pieces_come_to_is_said_first_and_agreed_to_by_the_next_press(self) -> None:
        self.assertEqual(self.counts(), (7, 1, 3, 2, 1))
        asked = {"how": "pieces", "pieces-0": "2", "restocks": "on", "frees_places": "on", "why": "Torn"}
        shown = self.sent(**asked)
        self.assertContains(shown, "Refund €18.00")
        self.assertContains(shown, "2 × Delta kite")
        self.assertFalse(Refund.objects.exists())
        hidden = dict(re.findall(r'<input type="hidden" name="(\w+)" value="([^"]*)"', shown.content.decode()))
        self.assertEqual(hidden["agreed"], "18.00")
        for _ in range(2):
            self.client.post(self.page, hidden | asked | {"amount": "", "note": ""})
        refund = Refund.objects.get()
        self.assertEqual((refund.amount.major, refund.pieces, refund.why), ("18.00", {"kite": 2}, "Torn"))
        self.assertEqual(self.counts(), (9, 1, 1, 2, 1))
        self.assertContains(
            self.client.get(self.order.path), "€18.00 refunded, stock put back, places free again: Torn"
        )

    def test_the_rest_takes_what_is_left_and_frees_the_order_s_place(self) -> None:
        self.sent(how="pieces", agreed="18.00", restocks="on", frees_places="on", **{"pieces-0": "2"})
        self.sent(how="all", restocks="on", frees_places="on")
        self.assertEqual([each.amount.major for each in Refund.objects.all()], ["18.00", "15.03"])
        self.assertEqual(self.counts(), (10, 0, 0, 0, 1))
        self.order.refresh_from_db()
        self.assertTrue(self.order.is_refunded)

    def test_nothing_comes_back_that_was_not_ticked(self) -> None:
        self.sent(how="all")
        self.assertEqual(self.counts(), (7, 1, 3, 2, 1))

    def test_an_amount_brings_no_piece_back(self) -> None:
        self.sent(how="amount", amount="5", restocks="on", frees_places="on")
        self.assertEqual(Refund.objects.get().shares, {"lines": {"kite": 409, "tail": 91}, "delivery": 0, "cover": 0})
        self.assertEqual(self.counts(), (7, 1, 3, 2, 1))

    def test_more_than_there_is_and_what_contradicts_itself_is_told(self) -> None:
        for typed, words in (
            ({"how": "pieces", "pieces-0": "4"}, "Only 3 of it are left."),
            ({"how": "pieces", "pieces-0": "-1"}, "Write 0 or more."),
            ({"how": "pieces", "pieces-0": "x"}, "Write a whole number."),
            ({"how": "pieces"}, "Say how many pieces"),
            ({"how": "all", "amount": "4"}, "You typed an amount."),
            ({"how": "all", "pieces-0": "1"}, "You chose pieces."),
            ({"how": "some"}, "Select a valid choice"),
            ({}, "This field is required."),
        ):
            with self.subTest(typed):
                self.assertContains(self.sent(**typed), words, status_code=400)
        self.assertFalse(Refund.objects.exists())
        with self.assertRaises(TooFewPieces):
            refund_order(self.order, RefundWish(pieces={"kite": 4}), "k", present_ways(), timezone.now, by=BY)

    def test_the_sum_is_worked_out_while_it_is_typed(self) -> None:
        charge = re.findall(r'name="charge" value="(\d+)"', self.client.get(self.page).content.decode())[0]
        typed = {"how": "pieces", "pieces-1": "1", "charge": charge, "press": "x", "seen": "33.03", "amount": ""}
        answer = self.client.post(f"{self.page}sum/", typed).json()
        self.assertEqual((answer["agreed"], answer["button"]), ("3.02", "Refund €3.02"))  # half of 6.03, rounded
        self.assertEqual(self.client.post(f"{self.page}sum/", typed | {"pieces-1": "9"}).status_code, 400)

    def test_the_fee_comes_back_where_setup_says_so(self) -> None:
        OrderSettings.objects.create(business=self.member.business, fee_comes_back=True)
        self.sent(how="amount", amount="10")
        self.sent(how="all")
        self.assertEqual([each.fee_minor for each in Refund.objects.all()], [20, 46])  # of 2 % of 33.03
        rows = {row.words: row.amount.major for row in self.client.get(self.order.path).context["kept"]}
        self.assertEqual(rows, {"Refunded": "-33.03", "Left for you": "0.00"})
