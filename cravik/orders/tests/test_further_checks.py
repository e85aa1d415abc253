"""Banks that ask their customer first, answer late, never, or more than once."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import time_machine
from django.test import TestCase
from django.utils import timezone

from cravik.core.pricing.money import Money
from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from cravik.orders.own_page import OWN_FOR
from cravik.orders.paying.reconcile import reconcile
from cravik.payments.counter.gateway import LATE_BY, total_taken
from cravik.payments.counter.models import CounterCard, CounterNotice
from cravik.payments.models import Attempt, Hold
from cravik.payments.ways import present_ways
from tests.factories import MembershipFactory, make_live
from tests.links import make_link
from tests.paying import filled_in, open_page, paid_path, pay_live, send


def card(conduct: str) -> str:
    return str(CounterCard.objects.get(conduct=conduct).number)


class FurtherCheckTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.link = make_live(self.member.business)
        self.form = open_page(self.client, self.link) | {"card_number": card("check")}
        self.bank = send(self.client, self.link, self.form)["Location"]

    def answer(self, answer: str) -> Any:
        return self.client.post(self.bank, {"answer": answer}, follow=True)

    def test_the_bank_asks_before_anything_is_charged(self) -> None:
        self.assertTrue(self.bank.startswith("/counter/bank/"))
        self.assertContains(self.client.get(self.bank), "€24.00")
        self.assertEqual((Order.objects.count(), Attempt.objects.get().state), (0, "pending"))
        self.assertEqual(self.client.post(self.bank, {"answer": "perhaps"}).status_code, 404)
        self.assertEqual(send(self.client, self.link, self.form)["Location"], self.bank, "pressed twice")

    def test_who_passes_has_paid_once_however_often_it_is_answered(self) -> None:
        for _ in range(2):
            self.assertContains(self.answer("yes"), "Thank you, Maren Saltmarsh")
        self.assertContains(self.answer("no"), "Thank you, Maren Saltmarsh")
        self.assertContains(self.client.get(self.bank, follow=True), "Thank you, Maren Saltmarsh")
        self.assertEqual((Order.objects.count(), Letter.objects.count()), (1, 2))

    def test_who_fails_or_gives_up_finds_the_page_filled_in_and_pays_in_another_way(self) -> None:
        for answer, words in (("no", "the answer was no"), ("leave", "unanswered")):
            with self.subTest(answer):
                page = self.answer(answer)
                self.assertContains(page, words)
                self.assertContains(page, 'value="maren@dunes.example"')
                self.assertNotContains(page, card("check"))
                self.bank = send(self.client, self.link, filled_in(page, card_number=card("check")))["Location"]
        self.assertEqual(Hold.objects.filter(state="held").count(), 1)
        self.assertEqual(send(self.client, self.link, filled_in(self.answer("leave"))).status_code, 303)
        self.assertEqual(Order.objects.count(), 1)

    def test_who_comes_back_by_themselves_may_pay_with_another_card(self) -> None:
        paid = send(self.client, self.link, filled_in(self.client.get(self.link.path), page=self.form["page"]))
        self.assertContains(self.client.get(paid["Location"]), "Thank you")
        self.assertEqual(list(Attempt.objects.order_by("id").values_list("state", flat=True)), ["void", "approved"])
        self.assertContains(self.answer("yes"), "Thank you", msg_prefix="too late for the bank")
        self.assertEqual(total_taken(f"business-{self.member.business.pk}"), [Money(2400, "EUR")])

    def test_the_waiting_page_leads_to_the_bank_or_calls_it_off(self) -> None:
        waiting = self.client.get(Attempt.objects.get().checkout.path)
        self.assertContains(waiting, "Your bank has a question")
        self.assertNotContains(waiting, self.bank, msg_prefix="to the buyer alone")
        again = self.client.get(self.link.path)
        self.assertEqual(again.status_code, 200)
        own = self.own_waiting_page()
        self.assertContains(own, self.bank)
        page = self.client.post(own.context["call_off"], follow=True)
        self.assertContains(page, "called off before it was decided")
        self.assertContains(page, 'value="Maren Saltmarsh"')
        self.assertEqual(Hold.objects.filter(state="held").count(), 0)

    def own_waiting_page(self) -> Any:
        path = Attempt.objects.get().checkout.path
        return self.client.post(path, {"email": "MAREN@dunes.example"}, follow=True)

    def test_a_question_that_nobody_answers_is_called_off_in_the_end(self) -> None:
        later = timezone.now() + timedelta(minutes=16)
        self.assertEqual(reconcile(present_ways(), later, lambda: later), 1)
        self.assertEqual((Attempt.objects.get().state, Attempt.objects.get().reason), ("void", "called_off"))
        self.assertFalse(Hold.objects.filter(state="held").exists())


class AnswerTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live(MembershipFactory().business)

    def test_a_late_answer_ends_it_by_itself(self) -> None:
        answer = pay_live(self.client, self.link, card_number=card("late"))
        self.assertContains(self.client.get(answer["Location"]), "Waiting for the answer")
        now = timezone.now()
        self.assertEqual(reconcile(present_ways(), now, lambda: now), 0, "it is not time yet")
        with time_machine.travel(now + LATE_BY + timedelta(seconds=1)):
            self.assertEqual(reconcile(present_ways(), now - timedelta(hours=1), timezone.now), 1)
        self.assertEqual((Order.objects.count(), CounterNotice.objects.filter(acknowledged_at=None).count()), (1, 0))

    def test_one_that_never_comes_is_called_off_and_another_card_pays(self) -> None:
        answer = pay_live(self.client, self.link, card_number=card("never"))
        with time_machine.travel(timezone.now() + timedelta(minutes=1)):
            waiting = self.client.get(answer["Location"])
            self.assertContains(waiting, "Waiting for the answer")
            page = self.client.post(waiting.context["call_off"], follow=True)
            self.assertEqual(send(self.client, self.link, filled_in(page)).status_code, 303)
        self.assertEqual(Order.objects.count(), 1)

    def test_nothing_is_called_off_while_its_request_may_be_on_the_way(self) -> None:
        answer = pay_live(self.client, self.link, card_number=card("never"))
        self.assertEqual(self.client.get(answer["Location"]).context["call_off"], "")

    def test_one_that_comes_three_times_is_one_order(self) -> None:
        pay_live(self.client, self.link, card_number=card("twice"))
        now = timezone.now()
        self.assertEqual([reconcile(present_ways(), now, lambda: now) for _ in range(2)], [0, 0])
        self.assertEqual((Order.objects.count(), CounterNotice.objects.filter(acknowledged_at=None).count()), (1, 0))


class OwnPageTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live(MembershipFactory().business)
        self.paid = pay_live(self.client, self.link)

    def test_what_is_private_is_shown_for_half_an_hour_to_who_comes_from_paying(self) -> None:
        self.assertContains(self.client.get(self.paid["Location"]), "maren@dunes.example")
        with time_machine.travel(timezone.now() + OWN_FOR + timedelta(minutes=1)):
            self.assertNotContains(self.client.get(self.paid["Location"]), "maren@dunes.example")
        self.assertNotContains(self.client.get(paid_path(self.paid)), "maren@dunes.example")
        forged = f"{paid_path(self.paid)}?own=1xWP2Y%3AWcTHtutARuFQNGtkwJWipiPd_Szgja2I1hh0zb60psU"
        self.assertNotContains(self.client.get(forged), "maren@dunes.example")

    def test_and_to_who_types_the_address_that_was_paid_with(self) -> None:
        path = paid_path(self.paid)
        wrong = self.client.post(path, {"email": "jory@dunes.example"})
        self.assertContains(wrong, "not the address", status_code=400)
        self.assertNotContains(wrong, "maren@dunes.example", status_code=400)
        self.assertContains(self.client.post(path, {"email": " Maren@Dunes.example"}, follow=True), "maren@dunes")
        for _ in range(10):
            wrong = self.client.post(path, {"email": "jory@dunes.example"})
        self.assertContains(wrong, "tried too often", status_code=400)
        right = self.client.post(path, {"email": "maren@dunes.example"})
        self.assertNotContains(right, "maren@dunes.example", status_code=400)
        elsewhere = self.client.post(path, {"email": "maren@dunes.example"}, REMOTE_ADDR="203.0.113.9", follow=True)
        self.assertContains(elsewhere, "maren@dunes", msg_prefix="who guesses keeps nobody from their own page")

    def test_a_reference_leads_back_however_it_is_typed(self) -> None:
        reference = Order.objects.get().checkout.reference
        typed = f" {reference[:4]}-{reference[4:8]} {reference[8:]}".lower()
        self.assertRedirects(self.client.get("/paid/", {"reference": typed}), paid_path(self.paid))
        for wrong in ("NOTHING", "../../", "x" * 500):
            answer = self.client.get("/paid/", {"reference": wrong})
            self.assertContains(answer, "No payment has this reference", status_code=404)
        self.assertContains(self.client.get("/paid/"), "Find your payment")

    def test_who_took_the_last_place_after_a_decline_finds_the_receipt_on_going_back(self) -> None:
        link = make_link(business=self.link.business, limits={"orders": 1})
        declined = pay_live(self.client, link, card_number=card_that_declines())
        address = f"{declined.request['PATH_INFO']}?{declined.request['QUERY_STRING']}"
        self.assertEqual(send(self.client, link, filled_in(declined)).status_code, 303)
        self.assertContains(self.client.get(address, follow=True), "Thank you")

    def test_the_filled_page_is_its_buyers_alone(self) -> None:
        other = make_live(self.link.business, "Other")
        declined = pay_live(self.client, other, card_number=card_that_declines())
        address = declined.request["PATH_INFO"]
        self.assertContains(declined, "maren@dunes.example")
        stranger = self.client.get(address)
        self.assertRedirects(stranger, other.path, status_code=303)
        mixed = address.replace(other.path, self.link.path)
        self.assertRedirects(
            self.client.get(f"{mixed}?{declined.request['QUERY_STRING']}"), self.link.path, status_code=303
        )


def card_that_declines() -> str:
    return str(CounterCard.objects.filter(conduct="decline")[0].number)
