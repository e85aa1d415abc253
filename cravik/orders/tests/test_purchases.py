"""A buyer's own page: opened once by what was mailed, shut to everybody else, and the same answer for any address."""

from __future__ import annotations

import json
import re
from datetime import timedelta
from typing import Any

import time_machine
from django.test import Client, TestCase
from django.utils import timezone

from cravik.events.reading import events_of_order
from cravik.mailroom.models import Letter
from cravik.orders.models import Order, PurchasesKey
from tests.factories import MembershipFactory, make_live
from tests.paying import pay_live


class PurchasesTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.business = self.member.business
        for number, thing in enumerate(("Kite repair", "Box kite")):
            pay_live(Client(REMOTE_ADDR=f"192.0.2.{number}"), make_live(self.business, thing))
        pay_live(Client(), make_live(self.business, "Sled"), email="jonas@dunes.example", name="Jonas")
        self.page = f"/purchases/{self.business.pk}/"

    def mailed(self, email: str = "Maren+x@dunes.example") -> str:
        answer = self.client.post(self.page, {"email": email})
        self.assertContains(answer, "a link is on its way to it")
        letter = Letter.objects.filter(kind="purchases").latest("id")
        (path,) = re.findall(r"https?://[^/]+(/purchases/\d+/open/[^/]+/)", letter.text)
        return str(path)

    def opened(self) -> Any:
        return self.client.post(self.mailed(), follow=True)

    def test_what_was_mailed_opens_it_once_by_a_press(self) -> None:
        path = self.mailed()
        for _ in range(2):  # as a program that looks at addresses does
            self.assertContains(self.client.get(path), "Open your purchases")
        self.assertNotIn("purchases", self.client.cookies)
        page = self.client.post(path, follow=True)
        for words in ("Kite repair", "Box kite", "Order 1001", "Receipt R-", "€24.00"):
            self.assertContains(page, words)
        self.assertNotContains(page, "Sled")
        cookie = self.client.cookies["purchases"]
        self.assertEqual((cookie["path"], cookie["httponly"], cookie["samesite"]), (self.page, True, "Lax"))
        again = Client().post(path)
        self.assertContains(again, "no longer works", status_code=410)
        self.assertContains(Client().get(path), "no longer works", status_code=410)
        self.client.post(f"{self.page}leave/")
        self.assertContains(self.client.get(self.page), "You get a link by e-mail")

    def test_an_address_that_nobody_bought_with_is_answered_alike_and_nothing_is_sent(self) -> None:
        known = self.client.post(self.page, {"email": "maren@dunes.example"}).content
        other = self.client.post(self.page, {"email": "nobody@dunes.example"}).content
        self.assertEqual(known.replace(b"maren@", b"nobody@"), other)
        self.assertEqual(Letter.objects.filter(kind="purchases").count(), 1)
        self.assertEqual(Letter.objects.get(kind="purchases").to_address, "maren@dunes.example")

    def test_it_lapses_after_a_day_and_too_many_are_not_sent(self) -> None:
        path = self.mailed()
        with time_machine.travel(timezone.now() + timedelta(hours=25)):
            self.assertEqual(self.client.post(path).status_code, 410)
        for _ in range(8):
            self.client.post(self.page, {"email": "maren@dunes.example"})
        self.assertEqual(Letter.objects.filter(kind="purchases").count(), 5)
        for _ in range(20):
            answer = self.client.post(self.page, {"email": "jonas@dunes.example"})
        self.assertContains(answer, "too often", status_code=400)
        for typed in ("", "x", "a@b", "x" * 300 + "@dunes.example"):
            self.assertEqual(self.client.post(self.page, {"email": typed}).status_code, 400, typed[:9])

    def test_another_business_s_purchases_and_a_forged_cookie_open_nothing(self) -> None:
        path = self.mailed()
        other = MembershipFactory().business
        self.assertEqual(self.client.post(path.replace(f"/{self.business.pk}/", f"/{other.pk}/")).status_code, 410)
        self.client.post(path)
        kept = self.client.cookies["purchases"].value
        stranger = Client()
        for value, page in (
            (kept, f"/purchases/{other.pk}/"),
            (kept[:-1] + "x", self.page),
            ("1-1", self.page),
            ("", self.page),
        ):
            stranger.cookies["purchases"] = value
            self.assertContains(stranger.get(page), "You get a link by e-mail")
            self.assertEqual(stranger.get(f"{page}data.json").status_code, 302)
            self.assertEqual(stranger.post(f"{page}refund/", {"order": "1001", "wish": "x"}).status_code, 302)
        self.assertEqual(self.client.get("/purchases/99999/").status_code, 404)
        self.assertFalse(PurchasesKey.objects.filter(digest__in=path.split("/")).exists(), "only its digest is kept")

    def test_a_refund_is_asked_for_in_a_sentence_once(self) -> None:
        self.opened()
        hostile = "It {buyer} <b>bent</b>"
        empty = self.client.post(f"{self.page}refund/", {"order": "1001", "wish": " "})
        self.assertContains(empty, "Say in a sentence why.", status_code=400)
        for _ in range(2):
            answer = self.client.post(f"{self.page}refund/", {"order": "1001", "wish": hostile}, follow=True)
        self.assertContains(answer, "You asked for a refund.")
        letter = Letter.objects.get(kind="refund_asked")
        self.assertEqual((letter.to_address, letter.reply_to), (self.member.user.email, "maren@dunes.example"))
        self.assertIn(hostile, letter.text)
        order = Order.objects.get(number=1001)
        self.assertIn(f"Asked for a refund: “{hostile}”", [each.words for each in events_of_order(order.pk)])
        for number in ("1003", "9999", "x", ""):
            self.assertEqual(self.client.post(f"{self.page}refund/", {"order": number, "wish": "x"}).status_code, 404)

    def test_their_data_is_all_of_theirs_and_nobody_else_s(self) -> None:
        self.opened()
        text = self.client.get(f"{self.page}data.json").content.decode()
        data = json.loads(text)
        self.assertEqual([each["number"] for each in data["orders"]], [1002, 1001])
        self.assertEqual(data["orders"][0]["documents"][0]["total"], "24.00")
        self.assertTrue(any("receipt" in each["subject"] for each in data["letters"]))
        self.assertNotIn("jonas", text.lower())
