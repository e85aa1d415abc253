"""Money goes back once, whatever happens in between, and ledger, books and order agree to the last minor unit."""

from __future__ import annotations

import io
import json
import random
from datetime import timedelta
from typing import Any
from unittest import mock

from django.core.management import CommandError, call_command
from django.db import IntegrityError, transaction
from django.db.models import Sum
from django.test import TestCase
from django.urls import reverse
from django.utils import timezone

from cravik.core.pricing.money import Money
from cravik.events.reading import events_of_order
from cravik.orders.models import Order
from cravik.orders.own_page import own_path
from cravik.orders.paying.reconcile import reconcile
from cravik.orders.refunding import RefundWish, refund_order
from cravik.payments import gateway as port
from cravik.payments.counter.gateway import CounterGateway, total_taken
from cravik.payments.counter.models import CounterRefund
from cravik.payments.gateway import AnswerLost, KeyReused, NothingToRefund, Unreachable
from cravik.payments.models import Attempt, Movement, Refund
from cravik.payments.refunding import KeyOfAnother, LessLeft, RefundDraft, begin_refund
from cravik.payments.ways import present_ways
from tests.factories import BY, MembershipFactory, make_live
from tests.links import line, make_link
from tests.paying import filled_in, pay_live


def euros(text: str) -> Money:
    return Money.parse(text, "EUR")


class RefundTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live(MembershipFactory().business)
        pay_live(self.client, self.link)
        self.order = Order.objects.get()
        self.gateway = CounterGateway()

    def refund(self, amount: str, key: str = "k1", **options: Any) -> Refund:
        return refund_order(self.order, RefundWish(euros(amount)), key, present_ways(), timezone.now, by=BY, **options)

    def test_its_buyer_is_still_told_what_they_paid(self) -> None:
        self.refund("24.00")
        shown = self.client.get(own_path(self.order.checkout.reference))
        self.assertContains(shown, "has your €24.00 for Kite repair")
        self.assertNotContains(shown, "nothing to pay")

    def assert_books_agree(self, left: str) -> None:
        """Ledger, counter and order say that so much is left, and what is set aside is what is pending."""
        ledger = Movement.objects.filter(rehearsal=False).aggregate(sum=Sum("amount_minor"))["sum"]
        counter = total_taken(f"business-{self.link.business_id}")[0]
        self.order.refresh_from_db()
        self.assertEqual((Money(ledger, "EUR"), counter, self.order.paid), (euros(left),) * 3)
        undecided = Refund.objects.filter(state=Refund.State.PENDING).aggregate(sum=Sum("amount_minor"))["sum"] or 0
        charge = Attempt.objects.get(checkout=self.order.checkout_id, state="approved")
        self.assertEqual(charge.amount_minor - charge.refunded_minor, euros(left).minor - undecided)

    def test_parts_of_a_charge_go_back_up_to_all_of_it_and_each_undoes_it(self) -> None:
        first, second = self.refund("4.00"), self.refund("20.00", "k2")
        self.assertEqual((first.state, second.state), ("done", "done"))
        with self.assertRaises(LessLeft) as less:
            self.refund("0.01", "k3")
        self.assertEqual(less.exception.left, euros("0.00"))
        self.assert_books_agree("0.00")
        charge = Movement.objects.get(kind="charge")
        self.assertEqual([each.undoes for each in Movement.objects.filter(kind="refund")], [charge, charge])
        words = [each.words for each in events_of_order(self.order.pk) if "issued" not in each.words]
        self.assertEqual(words, ["Ordered", "€24.00 paid", "€4.00 refunded", "€20.00 refunded"])
        self.assertEqual(events_of_order(self.order.pk)[-2].who, "bin/cravik tests")

    def test_the_order_and_the_exported_row_say_what_went_back(self) -> None:
        self.client.force_login(self.link.business.members.get())
        self.assertContains(self.client.get(self.order.path), "Paid so far")
        self.refund("4.00")
        page = self.client.get(self.order.path)
        for words in ("Paid so far", "€24.00", "Refunded", "−€4.00"):
            self.assertContains(page, words)
        (row,) = json.loads(b"".join(self.client.get(reverse("orders:orders_document")).streaming_content))
        self.assertEqual((row["total"], row["paid"], row["refunded"]), ("24.00", "20.00", "4.00"))

    def test_the_same_key_repeats_nothing_and_stands_for_no_other_refund(self) -> None:
        first = self.refund("4.00")
        self.assertEqual(self.refund("4.00").pk, first.pk)
        with self.assertRaises(KeyOfAnother):
            self.refund("5.00")
        self.assert_books_agree("20.00")

    def test_what_is_no_sum_or_more_than_there_is_asks_the_gateway_for_nothing(self) -> None:
        for amount in (euros("24.01"), euros("0.00"), Money(-1, "EUR"), Money(400, "USD")):
            with self.subTest(amount), self.assertRaises(LessLeft):
                refund_order(self.order, RefundWish(amount), "k", present_ways(), timezone.now, by=BY)
        self.assertFalse(Refund.objects.exists() or CounterRefund.objects.exists())

    def test_killed_before_the_gateway_it_is_asked_by_the_clock(self) -> None:
        with mock.patch.object(CounterGateway, "refund", side_effect=SystemExit), self.assertRaises(SystemExit):
            self.refund("4.00")
        self.assert_books_agree("24.00")
        self.assertEqual([reconcile(present_ways(), timezone.now(), timezone.now) for _ in range(2)], [1, 0])
        self.assert_books_agree("20.00")

    def test_killed_after_the_gateway_it_is_written_down_once(self) -> None:
        with (
            mock.patch("cravik.orders.refunding.return_money", side_effect=SystemExit),
            self.assertRaises(SystemExit),
        ):
            self.refund("4.00")
        self.assertEqual(CounterRefund.objects.count(), 1)
        self.assertEqual(self.refund("4.00").state, "done", "the same key says what became of it")
        self.assertEqual(
            (CounterRefund.objects.count(), reconcile(present_ways(), timezone.now(), timezone.now)), (1, 0)
        )
        self.assert_books_agree("20.00")

    def test_a_lost_answer_or_a_processor_that_is_away_keeps_it_set_aside_until_it_is_known(self) -> None:
        for trouble in (AnswerLost, Unreachable):
            with mock.patch.object(CounterGateway, "refund", side_effect=trouble):
                self.assertEqual(self.refund("20.00", trouble.__name__[:1]).state, "pending")
                with self.assertRaises(LessLeft):
                    self.refund("5.00", "another")
            Refund.objects.all().delete()
            Attempt.objects.update(refunded_minor=0)
        with mock.patch.object(CounterGateway, "refund", side_effect=AnswerLost):
            self.refund("20.00")
        reconcile(present_ways(), timezone.now(), timezone.now)
        self.assert_books_agree("4.00")

    def test_what_the_gateway_refuses_is_free_again_and_told(self) -> None:
        for trouble in (NothingToRefund, KeyReused):
            with mock.patch.object(CounterGateway, "refund", side_effect=trouble):
                self.assertEqual(self.refund("4.00", trouble.__name__).state, "refused")
        self.assertEqual(events_of_order(self.order.pk)[-1].words, "€4.00 could not be refunded")
        self.assert_books_agree("24.00")
        self.refund("24.00", "again")
        self.assert_books_agree("0.00")

    def test_the_database_itself_refuses_more_than_was_charged(self) -> None:
        with self.assertRaises(IntegrityError), transaction.atomic():
            Attempt.objects.update(refunded_minor=2401)

    def test_any_sequence_of_refunds_and_kills_leaves_the_books_in_agreement(self) -> None:
        chance, left, keys = random.Random(32), 2400, 0
        while left > 0:
            amount, keys = chance.randint(1, min(600, left + 60)), keys + 1
            with transaction.atomic():
                fits = amount <= left
                try:
                    refund = begin_refund(
                        Attempt.objects.get(state="approved"),
                        RefundDraft(Money(amount, "EUR")),
                        f"r{keys}",
                        timezone.now(),
                        by=BY,
                    )
                except LessLeft:
                    self.assertFalse(fits)
                    continue
            self.assertTrue(fits)
            if chance.random() < 0.5:  # asked, and killed before the answer was written down
                self.gateway.refund(port.Refund(refund.key, refund.charge.gateway_reference, refund.amount))
            for _ in range(chance.randint(1, 3)):
                reconcile(present_ways(), timezone.now(), timezone.now)
            left -= amount
            self.assert_books_agree(Money(left, "EUR").major)

    def test_a_rehearsal_is_given_back_and_counts_nowhere(self) -> None:
        self.client.force_login(self.link.business.members.get())
        address = f"/for/rehearsal/{self.link.pk}/"
        self.client.post(f"{address}pay/", filled_in(self.client.get(address)))
        order = Order.objects.get(rehearsal=True)
        refund_order(order, RefundWish(euros("24.00")), "k", present_ways(), timezone.now, by=BY)
        order.refresh_from_db()
        self.assertEqual(order.paid, euros("0.00"))
        self.assert_books_agree("24.00")


class RefundCommandTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live()
        pay_live(self.client, self.link)

    def run_it(self, *words: str) -> tuple[int, str]:
        out = io.StringIO()
        try:
            call_command("refund", *words, stdout=out)
        except CommandError as error:
            return error.returncode, str(error)
        return 0, out.getvalue()

    def test_it_says_what_it_would_do_and_does_it_with_yes_once(self) -> None:
        said = self.run_it("1001", "4", "--key", "torn")
        self.assertEqual(said[0], 2)
        self.assertIn("€4.00 of the €24.00 that are left of order 1001 go back to the card ending in 0019", said[1])
        self.assertFalse(Refund.objects.exists())
        for _ in range(2):
            self.assertIn("€4.00 of order 1001 given back", self.run_it("1001", "4", "--key", "torn", "--yes")[1])
        self.assertEqual(Order.objects.get().paid, euros("20.00"))

    def test_what_cannot_be_is_told_in_a_sentence_with_its_status(self) -> None:
        self.run_it("1001", "4", "--key", "torn", "--yes")
        reference = Attempt.objects.get().gateway_reference
        for words, status, says in (
            (("7", "4"), 2, "has no order 7"),
            (("1001", "many"), 2, "is no amount"),
            (("1001", "21.00"), 1, "Only €20.00 of it is left"),
            (("1001", "5", "--key", "torn"), 2, "stands for another refund"),
            (("1001", "5", "--key", ""), 2, "A key has"),
            (("1001", "5", "--key", "x" * 37), 2, "A key has"),
            (("1001", "5", "--charge", "nothing"), 2, "Nothing was charged"),
            (("1001", "5", "--business", "Nobody"), 2, "Name one business"),
            (("1001", "5", "--rehearsal"), 2, "has no order 1001"),
        ):
            with self.subTest(words):
                given = words if "--key" in words else (*words, "--key", "next")
                told = (
                    self.run_it(*given, "--yes")
                    if words[1] != "-4"
                    else self.run_it("--yes", "--key", "n", "1001", "--", "-4")
                )
                self.assertEqual((told[0], says in told[1]), (status, True), told)
        self.assertEqual(Refund.objects.count(), 1)
        self.assertEqual(self.run_it("1001", "1", "--key", "n", "--yes", "--charge", reference)[0], 0)

    def test_where_the_processor_does_not_say_it_is_asked_again(self) -> None:
        with mock.patch.object(CounterGateway, "refund", side_effect=Unreachable):
            status, words = self.run_it("1001", "4", "--key", "torn", "--yes")
        self.assertEqual(status, 3)
        self.assertIn("it is asked again", words)
        reconcile(present_ways(), timezone.now() + timedelta(minutes=1), timezone.now)
        self.assertEqual(self.run_it("1001", "4", "--key", "torn", "--yes")[0], 0)
        self.assertEqual(CounterRefund.objects.count(), 1)

    def test_an_order_that_cost_nothing_has_nothing_to_give_back(self) -> None:
        pay_live(self.client, make_link(line(amount="0.00"), business=self.link.business))
        self.assertEqual(self.run_it("1002", "1", "--key", "n", "--yes")[0], 2)
