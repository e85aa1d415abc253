"""Who pressed Pay and did not pay: listed with the reason, written to once at most, and forgotten after a month."""

from __future__ import annotations

from datetime import timedelta

import time_machine
from django.test import Client, TestCase
from django.utils import timezone

from cravik.checkout.models import Checkout
from cravik.links.life import lifecycle
from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from cravik.orders.unpaid import forget
from cravik.payments.models import Attempt
from tests.factories import BY, MembershipFactory, make_live
from tests.paying import FALLS_SILENT, NO_FUNDS, open_page, pay_live, send


class UnpaidTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.link = make_live(self.member.business)
        pay_live(Client(), self.link, card_number=NO_FUNDS, name="Jonas <Vetch>", email="jonas@harbour.example")
        self.checkout = Checkout.objects.get()
        self.client.force_login(self.member.user)

    def page(self) -> str:
        return " ".join(self.client.get("/orders/not-paid/").content.decode().split())

    def write(self) -> str:
        answer = self.client.post(f"/orders/not-paid/{self.checkout.pk}/letter/", follow=True)
        return " ".join(answer.content.decode().split()) if answer.status_code == 200 else str(answer.status_code)

    def letters(self) -> int:
        return Letter.objects.filter(kind="not_paid").count()

    def test_each_stands_there_with_its_last_reason(self) -> None:
        self.assertIn("Declined: there was not enough money on the card", self.page())
        self.assertIn("Jonas &lt;Vetch&gt;", self.page())
        self.assertIn("1 tried to pay and didn&#x27;t", self.client.get("/orders/").content.decode())

    def test_a_letter_goes_once_however_often_it_is_pressed(self) -> None:
        self.assertIn("Jonas &lt;Vetch&gt; gets a letter.", self.write())
        self.assertIn("there is only one", self.write())
        letter = Letter.objects.get(kind="not_paid")
        self.assertEqual((letter.to_address, self.letters()), ("jonas@harbour.example", 1))
        self.assertIn(f"{self.link.path}", letter.text)
        self.assertIn("Jonas &lt;Vetch&gt;", letter.html)

    def test_who_pays_on_the_same_page_or_another_gets_none(self) -> None:
        pay_live(Client(), self.link, name="Jonas Vetch", email="JONAS@harbour.example")
        self.assertIn("paid later", self.page())
        self.assertIn("they paid meanwhile", self.write())
        form = open_page(Client(), self.link) | {"email": "maren@dunes.example"}
        send(Client(), self.link, form | {"card_number": NO_FUNDS})
        send(Client(), self.link, form)
        self.assertEqual(self.page().count("<tr><td"), 1)
        self.assertEqual(self.letters(), 0)

    def test_neither_what_is_not_decided_nor_a_rehearsal_nor_anothers_is_there(self) -> None:
        pay_live(Client(), self.link, card_number=FALLS_SILENT, email="silent@dunes.example")
        Checkout.objects.filter(pk=self.checkout.pk).update(rehearsal=True)
        self.assertIn("everybody who pressed Pay has paid", self.page())
        Checkout.objects.filter(pk=self.checkout.pk).update(rehearsal=False)
        self.client.force_login(MembershipFactory().user)
        self.assertIn("everybody who pressed Pay has paid", self.page())
        self.assertEqual((self.write(), self.letters()), ("404", 0))

    def test_no_letter_where_the_page_did_not_say_so_or_nothing_can_be_paid(self) -> None:
        self.assertContains(Client().get(self.link.path), "the seller may write to you once")
        Checkout.objects.update(may_be_written_to=False)
        self.assertIn("the page didn&#x27;t say", self.write())
        Checkout.objects.update(may_be_written_to=True)
        lifecycle.pause(self.link, timezone.now(), by=BY)
        self.assertIn("the link takes no payments now", self.write())
        self.assertEqual(self.letters(), 0)

    def test_after_a_month_nobody_is_known_who_did_not_pay_and_whoever_did_stays(self) -> None:
        pay_live(Client(), self.link)
        pay_live(Client(), self.link, card_number=FALLS_SILENT, email="silent@dunes.example")
        self.assertEqual(forget(timezone.now() + timedelta(days=29)), 0)
        with time_machine.travel(timezone.now() + timedelta(days=31)):
            self.assertEqual((forget(timezone.now()), forget(timezone.now())), (1, 0))
        kept = Checkout.objects.get(pk=self.checkout.pk)
        self.assertEqual(
            (kept.buyer_name, kept.buyer_email, kept.buyer_key, kept.typed, kept.where), ("", "", "", {}, {})
        )
        self.assertEqual(Attempt.objects.filter(checkout=kept, state="declined").count(), 1)
        self.assertEqual(Order.objects.get().checkout.buyer_email, "maren@dunes.example")
        self.assertTrue(Checkout.objects.filter(buyer_email="silent@dunes.example").exists())
        self.assertEqual(Client().get(f"/paid/{kept.reference}/").status_code, 200)
