"""Giving money back on an order's page: what is typed, pressed twice, pressed by two, and what the buyer is told."""

from __future__ import annotations

import re
from typing import Any
from unittest import mock

from django.test import Client, TestCase
from django.utils import timezone

from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from cravik.orders.paying.reconcile import reconcile
from cravik.payments.counter.gateway import CounterGateway
from cravik.payments.gateway import AnswerLost, NothingToRefund
from cravik.payments.models import Movement, Refund
from cravik.payments.ways import present_ways
from tests.factories import MembershipFactory, make_live
from tests.links import make_link
from tests.paying import filled_in, give_back, pay_live


class RefundPageTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.link = make_live(self.member.business)
        pay_live(self.client, self.link)
        self.order = Order.objects.get()
        self.client.force_login(self.member.user)
        self.page = f"/orders/{self.order.number}/refund/"

    def opened(self) -> dict[str, str]:
        """What stands in the fields of the page when it is opened."""
        html = self.client.get(self.page).content.decode()
        return dict(re.findall(r'<input[^>]*name="(\w+)"[^>]*value="([^"]*)"', html)) | {"note": ""}

    def sent(self, fields: dict[str, str], **typed: str) -> Any:
        return self.client.post(self.page, fields | typed, follow=True)

    def refunded(self) -> list[tuple[str, str]]:
        return [(each.amount.major, each.state) for each in Refund.objects.order_by("id")]

    def test_the_whole_of_it_is_filled_in_and_a_double_press_gives_it_back_once(self) -> None:
        fields = self.opened()
        self.assertEqual(fields["amount"], "24.00")
        first, again = self.sent(fields), self.sent(fields)
        self.assertContains(first, "€24.00 refunded to the card ending in 0019. Maren Saltmarsh gets a letter.")
        self.assertEqual((self.refunded(), again.status_code), ([("24.00", "done")], 200))
        self.assertEqual(Movement.objects.filter(kind="refund").count(), 1)
        self.assertNotContains(again, f'href="{self.page}"')  # nothing is left to be refunded
        self.assertContains(self.client.get(self.page, follow=True), "Order 1001")

    def test_the_buyer_is_told_once_in_the_sellers_words_which_are_words_and_nothing_else(self) -> None:
        hostile = "{order_address} <b>Sorry</b> & [x](javascript:alert(1))"
        self.sent(self.opened(), amount="4", note=hostile)
        letter = Letter.objects.get(kind="refund")
        self.assertEqual(letter.to_address, self.order.buyer_email)
        self.assertIn("refunded €4.00", letter.subject)
        self.assertIn(hostile, letter.text)
        self.assertIn("{order_address} &lt;b&gt;Sorry&lt;/b&gt; &amp; [x](javascript:alert(1))", letter.html)
        self.assertIn("€4.00 of what you paid for Kite repair", letter.text)
        self.assertIn("card ending in 0019", letter.text)
        self.assertNotIn("/orders/", letter.text + letter.html)

    def test_what_cannot_be_is_told_at_the_field_and_loses_nothing(self) -> None:
        fields = self.opened()
        for typed, words in {
            "24.01": "Only €24.00 of it is left to refund.",
            "0": "Write an amount above zero.",
            "-3": "can’t be below zero".replace("’", "&#x27;"),
            "": "Say how much.",
            "five": "is no amount",
            "4,5,6": "",
            "1e3": "",
            "USD 4": "",
        }.items():
            with self.subTest(typed):
                answer = self.sent(fields, amount=typed, note="For the bent spar")
                self.assertContains(answer, words, status_code=400)
                self.assertContains(answer, 'value="For the bent spar"', status_code=400)
        self.assertContains(self.sent(fields, amount="4", note="x" * 301), "the most is 300", status_code=400)
        self.assertEqual(self.refunded(), [])

    def test_who_comes_second_is_told_and_gives_nothing_back(self) -> None:
        first, second = self.opened(), self.opened()
        self.sent(first, amount="5")
        answer = self.sent(second, amount="5", note="Late by a week")
        self.assertContains(answer, "somebody else did meanwhile. €19.00 is left.", status_code=409)
        self.assertContains(answer, 'value="Late by a week"', status_code=409)
        self.assertEqual(self.refunded(), [("5.00", "done")])
        again = dict(re.findall(r'<input[^>]*name="(\w+)"[^>]*value="([^"]*)"', answer.content.decode()))
        self.sent(again)
        self.assertEqual(self.refunded(), [("5.00", "done"), ("5.00", "done")])
        self.assertEqual(self.opened()["amount"], "14.00")

    def test_an_answer_that_was_lost_is_asked_for_again_and_the_letter_written_once(self) -> None:
        with mock.patch.object(CounterGateway, "refund", side_effect=AnswerLost):
            answer = self.sent(self.opened(), amount="24.00", note="Sorry")
        self.assertContains(answer, "The processor has not answered yet. €24.00 is set aside")
        self.assertContains(answer, "waits for the processor's answer")
        self.assertFalse(Letter.objects.filter(kind="refund").exists())
        for _ in range(2):
            reconcile(present_ways(), timezone.now(), timezone.now)
        self.assertEqual((self.refunded(), Letter.objects.filter(kind="refund").count()), ([("24.00", "done")], 1))

    def test_what_the_processor_refuses_is_said_in_words_and_can_be_tried_again(self) -> None:
        with mock.patch.object(CounterGateway, "refund", side_effect=NothingToRefund):
            answer = self.sent(self.opened())
        self.assertContains(answer, "Nothing was refunded. The processor says")
        self.sent(self.opened())
        self.assertEqual(self.refunded(), [("24.00", "refused"), ("24.00", "done")])

    def test_a_rehearsal_is_refunded_too_and_counts_nowhere(self) -> None:
        address = f"/for/rehearsal/{self.link.pk}/"
        self.client.post(f"{address}pay/", filled_in(self.client.get(address)))
        order = Order.objects.get(rehearsal=True)
        self.page = f"/orders/rehearsal/{order.number}/refund/"
        self.assertContains(self.client.get(self.page), "no money moves")
        self.sent(self.opened())
        self.assertEqual([each.rehearsal for each in Movement.objects.filter(kind="refund")], [True])
        self.assertTrue(Letter.objects.get(kind="refund").rehearsal)

    def test_an_order_of_another_business_and_a_page_without_its_marks_are_refused(self) -> None:
        fields = self.opened()
        self.assertContains(self.sent({"amount": "4", "note": ""}), "the page was incomplete")
        self.client.force_login(MembershipFactory().user)
        self.assertEqual(self.client.get(self.page).status_code, 404)
        self.assertEqual(self.client.post(self.page, fields).status_code, 404)
        self.assertEqual(self.refunded(), [])

    def test_hidden_fields_that_were_spoiled_refund_nothing_and_are_told(self) -> None:
        fields = self.opened()
        words = "Nothing was refunded: the page was incomplete."
        for name, spoiled in (("seen", "0x10"), ("seen", "24.001"), ("press", ""), ("press", "p" * 30)):
            self.assertContains(self.sent(fields, **{name: spoiled}), words, msg_prefix=f"{name}={spoiled}")
        self.assertEqual(self.refunded(), [])

    def test_what_is_left_is_net_of_what_went_back_and_of_the_tax_in_it(self) -> None:
        rate, fee = {"country": "IE", "name": "VAT", "percent": "23"}, {"percent": "1.5", "fixed": "0.25"}
        tax = {"seller_country": "IE", "prices_include_tax": True, "rates": [rate]}
        pay_live(Client(), make_link(business=self.member.business, offer={"tax": tax, "fee": fee}), country="IE")
        order = Order.objects.latest("id")
        give_back(order, "5.00")
        rows = self.client.get(order.path).context["kept"]
        self.assertEqual(
            {row.words: row.amount.major for row in rows},
            {"Tax you owe": "-3.55", "Refunded": "-5.00", "The processor's fee": "-0.61", "Left for you": "14.84"},
        )  # of 24.00 there are 4.49 of tax, and 0.94 in 5.00
        give_back(order, "19.00")
        self.assertEqual(self.client.get(order.path).context["kept"][-1].amount.major, "-0.61")
