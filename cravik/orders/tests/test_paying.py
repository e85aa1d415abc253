from __future__ import annotations

from datetime import timedelta
from unittest import mock

import time_machine
from django.db import IntegrityError, transaction
from django.test import TestCase
from django.utils import timezone

from cravik.checkout.declines import DECLINES, decline_words
from cravik.checkout.models import Checkout
from cravik.core.pricing.money import Money
from cravik.core.statistics.ladder import Rung
from cravik.journal.models import Visit
from cravik.links.life import lifecycle
from cravik.links.models import Link
from cravik.mailroom.models import Letter
from cravik.orders.acts.due_paid import pay_dues
from cravik.orders.acts.order_made import make_order
from cravik.orders.models import Order
from cravik.orders.paying.reconcile import reconcile
from cravik.payments.counter.gateway import CounterGateway
from cravik.payments.counter.models import CounterCharge
from cravik.payments.gateway import Answer, Charge, DeclineReason, Unreachable
from cravik.payments.models import Allocation, Attempt, Movement
from cravik.payments.ways import present_ways
from tests.factories import BROWSER, BY, NOW, MembershipFactory, change_price, make_draft, make_live
from tests.links import line, make_link
from tests.paying import APPROVES_TOO, FALLS_SILENT, NO_FUNDS, filled_in, open_page, paid_path, pay_live, send

HOSTILE_NAME = "=1+1 <script>alert(1)</script> 🪁"


class PayTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.link = make_live(self.member.business)

    def test_an_answer_is_stamped_when_it_came(self) -> None:
        """A processor that takes twenty seconds: the order is paid when it said so, not when the button was pressed."""
        with time_machine.travel(NOW, tick=False) as clock:
            form = open_page(self.client, self.link)
            charge = CounterGateway.charge

            def slowly(gateway: CounterGateway, asked: Charge) -> Answer:
                clock.shift(timedelta(seconds=20))
                return charge(gateway, asked)

            with mock.patch.object(CounterGateway, "charge", slowly):
                send(self.client, self.link, form)
        attempt, came = Attempt.objects.get(), NOW + timedelta(seconds=20)
        self.assertEqual((attempt.begun_at, attempt.answered_at), (NOW, came))
        self.assertEqual((Order.objects.get().paid_at, Movement.objects.get().at), (came, came))

    def test_a_payment_becomes_an_order_with_its_quote_and_two_letters(self) -> None:
        answer = pay_live(self.client, self.link)
        order = Order.objects.get()
        self.assertEqual((answer.status_code, paid_path(answer)), (303, f"/paid/{order.checkout.reference}/"))
        self.assertEqual(
            (order.number, order.paid, order.buyer_email), (1001, Money(2400, "EUR"), "maren@dunes.example")
        )
        quoted = order.checkout.line.quote_document
        self.assertEqual(
            (quoted["total"], quoted["net"], quoted["lines"][0]["name"]), ("24.00", "23.39", "Kite repair")
        )
        self.assertEqual((order.version, order.checkout.line.version), (self.link.version, self.link.version))
        self.assertEqual((order.spot, order.spot.is_first), (self.link.spots.get(), True))
        self.assertEqual(Visit.objects.get().rung, Rung.PAID)
        letters = {letter.kind: letter for letter in Letter.objects.all()}
        self.assertEqual(letters["receipt"].to_address, "maren@dunes.example")
        self.assertEqual(letters["sale_notice"].to_address, self.member.user.email)
        for letter in letters.values():
            self.assertEqual(letter.state, Letter.State.SENT)
            self.assertIn("€24.00", letter.text)

    def test_pressed_twice_it_is_paid_once(self) -> None:
        form = open_page(self.client, self.link)
        answers = [paid_path(send(self.client, self.link, form)) for _ in range(3)]
        self.assertEqual(len(set(answers)), 1)
        self.assertEqual((Order.objects.count(), CounterCharge.objects.count(), Letter.objects.count()), (1, 1, 2))

    def test_a_page_that_was_paid_is_not_paid_again_with_another_card(self) -> None:
        form = open_page(self.client, self.link)
        send(self.client, self.link, form)
        again = send(self.client, self.link, form | {"card_number": APPROVES_TOO, "security_code": "999"})
        self.assertContains(again, "This page has already been used for a payment.", status_code=409)
        self.assertEqual(CounterCharge.objects.count(), 1)

    def test_a_page_that_was_paid_does_not_show_the_confirmation_to_another(self) -> None:
        form = open_page(self.client, self.link)
        paid = send(self.client, self.link, form)
        for other in ({"name": "Jory Teal"}, {"email": "jory@dunes.example"}):
            refused = send(self.client, self.link, form | other)
            self.assertContains(refused, "This page has already been used for a payment.", status_code=409)
            self.assertNotContains(refused, paid_path(paid), status_code=409)
        self.assertEqual(CounterCharge.objects.count(), 1)
        theirs = send(self.client, self.link, filled_in(refused, email="jory@dunes.example", name="Jory Teal"))
        self.assertNotEqual(paid_path(theirs), paid_path(paid))
        self.assertEqual(CounterCharge.objects.count(), 2)

    def test_nor_once_the_link_is_closed_or_the_page_has_grown_old(self) -> None:
        form = open_page(self.client, self.link)
        paid = send(self.client, self.link, form)
        lifecycle.end(self.link, timezone.now(), by=BY)
        self.assertEqual(paid_path(send(self.client, self.link, form)), paid_path(paid))
        with time_machine.travel(timezone.now() + timedelta(days=3)):
            same = send(self.client, self.link, form | {"email": "MAREN@dunes.example"})
            self.assertEqual(paid_path(same), paid_path(paid))
            other = send(self.client, self.link, form | {"name": "Jory Teal"})
            self.assertEqual((other.status_code, other.has_header("Location")), (409, False))

    def test_the_database_itself_refuses_a_second_undecided_attempt_at_a_due(self) -> None:
        pay_live(self.client, self.link, card_number=FALLS_SILENT)
        attempt = Attempt.objects.get()
        due = attempt.allocations.get().due
        attempt.pk, attempt.key = None, "another"
        attempt.save()
        with self.assertRaises(IntegrityError), transaction.atomic():
            Allocation.objects.create(attempt=attempt, due=due, amount_minor=1)

    def test_the_tables_refuse_what_follows_from_an_approval_a_second_time(self) -> None:
        pay_live(self.client, self.link)
        attempt, order = Attempt.objects.get(), Order.objects.get()
        allocations = list(attempt.allocations.select_related("due"))
        for again in (
            lambda: make_order(attempt.checkout, timezone.now(), attempt.way, is_paid=True),
            lambda: pay_dues(order, attempt, allocations, timezone.now()),
        ):
            with self.assertRaises(IntegrityError), transaction.atomic():
                again()
        self.assertEqual((Order.objects.count(), Movement.objects.count(), order.paid.minor), (1, 1, 2400))

    def test_a_program_is_told_what_became_of_it(self) -> None:
        for card, outcome in ((NO_FUNDS, "402"), (FALLS_SILENT, "503"), (APPROVES_TOO, None)):
            with self.subTest(card):
                form = open_page(self.client, self.link) | {"card_number": card, "email": f"{card}@dunes.example"}
                answer = self.client.post(f"{self.link.path}pay/", form, headers={"user-agent": BROWSER})
                self.assertEqual((answer.status_code, answer.get("X-Outcome")), (303, outcome))

    def test_a_decline_says_why_keeps_what_was_typed_and_lets_another_card_pay(self) -> None:
        form = open_page(self.client, self.link) | {"card_number": NO_FUNDS}
        declined = send(self.client, self.link, form)
        self.assertContains(declined, "not enough money on this card")
        self.assertContains(declined, 'value="Maren Saltmarsh"')
        self.assertNotContains(declined, NO_FUNDS)
        self.assertEqual(Visit.objects.get().rung, Rung.TRIED)
        # Outcome once more with the same page and card, it is the same attempt.
        send(self.client, self.link, form)
        self.assertEqual(Attempt.objects.count(), 1)
        paid = send(self.client, self.link, filled_in(declined))
        self.assertEqual(paid.status_code, 303)
        self.assertEqual((Checkout.objects.count(), Attempt.objects.count(), Order.objects.count()), (1, 2, 1))

    def test_mistakes_are_told_at_the_field_and_nothing_is_tried(self) -> None:
        wrong = {
            "email": "maren@",
            "card_number": "9000000000000018",
            "expiry": "31/09",
            "security_code": "",
            "name": "  ",
        }
        answer = pay_live(self.client, self.link, **wrong)
        for sentence in (
            "name@place.example",
            "check digit does not fit",
            "such as 09/31",
            "3 digits of the security code",
            "Write your name",
        ):
            self.assertContains(answer, sentence, status_code=400)
        self.assertContains(answer, 'value="maren@"', status_code=400)
        self.assertEqual((Attempt.objects.count(), Visit.objects.get().rung), (0, Rung.STARTED))

    def test_a_long_or_hostile_name_is_bounded_and_shown_harmlessly(self) -> None:
        self.assertContains(pay_live(self.client, self.link, name="x" * 10_000), "the most is 200", status_code=400)
        answer = pay_live(self.client, self.link, name=HOSTILE_NAME)
        self.assertContains(self.client.get(answer["Location"]), "&lt;script&gt;alert(1)&lt;/script&gt; 🪁")
        self.assertNotIn("<script>", Letter.objects.get(kind="receipt").html)
        self.client.force_login(self.member.user)
        file = b"".join(self.client.get("/orders/orders.csv").streaming_content).decode()
        self.assertIn("'=1+1 <script>", file)

    def test_an_altered_page_charges_nothing_and_is_shown_anew(self) -> None:
        other = make_live(purpose="Box kite", minor=1)
        rehearsal = make_draft(self.member.business, "Delta")
        self.client.force_login(self.member.user)
        rehearsed = filled_in(self.client.get(f"/for/rehearsal/{rehearsal.pk}/"))["page"]
        self.client.logout()
        for page in (
            "",
            "x",
            open_page(self.client, other)["page"],
            rehearsed,
            open_page(self.client, self.link)["page"][:-2],
        ):
            with self.subTest(page[:10]):
                answer = pay_live(self.client, self.link, page=page)
                self.assertContains(answer, "was changed or was open for too long", status_code=400)
                self.assertContains(answer, 'value="Maren Saltmarsh"', status_code=400)
        self.assertFalse(CounterCharge.objects.exists())

    def test_the_second_page_of_the_same_buyer_is_asked_about(self) -> None:
        pay_live(self.client, self.link)
        asked = pay_live(self.client, self.link)
        self.assertContains(asked, "You paid for this a moment ago", status_code=409)
        self.assertEqual(Order.objects.count(), 1)
        send(self.client, self.link, filled_in(asked, second="yes"))
        self.assertEqual([order.number for order in Order.objects.order_by("number")], [1001, 1002])
        pay_live(self.client, self.link, email="another@dunes.example")
        self.assertEqual(Order.objects.count(), 3)

    def test_a_payment_whose_visit_a_power_cut_took_counts_as_a_visit(self) -> None:
        form = open_page(self.client, self.link)
        Visit.objects.all().delete()
        self.assertEqual(send(self.client, self.link, form).status_code, 303)
        order, visit = Order.objects.get(), Visit.objects.get()
        self.assertEqual((visit.rung, order.checkout.visit_id), (Rung.PAID, visit.pk))

    def test_the_sellers_own_payment_is_an_order_but_no_visit(self) -> None:
        self.client.force_login(self.member.user)
        pay_live(self.client, self.link)
        self.assertEqual((Order.objects.count(), Visit.objects.count()), (1, 0))


class TermsTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live()

    def change_price(self) -> None:
        lifecycle.publish(change_price(self.link, 3000), NOW, by=BY)

    def test_the_price_that_was_seen_is_charged_while_it_holds(self) -> None:
        form = open_page(self.client, self.link)
        self.change_price()
        send(self.client, self.link, form)
        self.assertEqual(Order.objects.get().paid.minor, 2400)

    def test_after_that_the_new_price_is_shown_first(self) -> None:
        with time_machine.travel(timezone.now() - timedelta(minutes=16), tick=False):
            form = open_page(self.client, self.link)
        self.change_price()
        shown = send(self.client, self.link, form)
        self.assertContains(shown, "it was €24.00, and is €30.00 now", status_code=409)
        self.assertFalse(Order.objects.exists())
        send(self.client, self.link, filled_in(shown))
        self.assertEqual(Order.objects.get().paid.minor, 3000)
        self.assertEqual([visit.rung for visit in Visit.objects.all()], [Rung.PAID])

    def test_each_reason_of_a_decline_has_words_of_its_own(self) -> None:
        self.assertEqual(DECLINES.keys(), {reason.value for reason in DeclineReason})
        self.assertEqual(len({*DECLINES.values(), decline_words("of tomorrow")}), len(DeclineReason) + 1)

    def test_a_contact_that_is_corrected_after_a_decline_is_the_orders(self) -> None:
        declined = send(self.client, self.link, open_page(self.client, self.link) | {"card_number": NO_FUNDS})
        send(self.client, self.link, filled_in(declined, email="right@dunes.example"))
        self.assertEqual(Order.objects.get().buyer_email, "right@dunes.example")

    def test_an_old_page_with_the_same_terms_is_simply_paid(self) -> None:
        with time_machine.travel(timezone.now() - timedelta(hours=9), tick=False):
            form = open_page(self.client, self.link)
        self.assertEqual(send(self.client, self.link, form).status_code, 303)

    def test_who_opened_the_page_in_time_may_finish_after_the_end(self) -> None:
        form = open_page(self.client, self.link)
        with time_machine.travel(timezone.now() - timedelta(minutes=16), tick=False):
            late = open_page(self.client, self.link)
        lifecycle.end(self.link, NOW, by=BY)
        self.assertContains(send(self.client, self.link, late), "This has ended", status_code=410)
        self.assertEqual(send(self.client, self.link, form).status_code, 303)
        self.assertEqual(Order.objects.count(), 1)


class RehearsalTest(TestCase):
    def test_what_each_later_payment_consists_of_is_kept_with_what_was_agreed(self) -> None:
        member, plan = (
            MembershipFactory(),
            {"kind": "instalments", "every": {"count": 1, "unit": "month"}, "payments": 3},
        )
        link = make_link(line(amount="100.00"), offer={"plan": plan}, business=member.business, published=False)
        self.client.force_login(member.user)
        address = f"/for/rehearsal/{link.pk}/"
        self.client.post(f"{address}pay/", filled_in(self.client.get(address)))
        line_bought = Order.objects.get().checkout.line
        kept = line_bought.quote_document["payments"]
        self.assertEqual([each["total"] for each in kept], ["33.34", "33.33", "33.33"])
        self.assertEqual([each["lines"][0]["amount"] for each in kept], ["33.34", "33.33", "33.33"])
        self.assertEqual([str(due.on) for due in line_bought.checkout.dues.all()], [each["on"] for each in kept])
        self.assertEqual(line_bought.quote.total.major, "100.00", "it is read back")

    def test_a_rehearsal_does_everything_and_counts_nowhere(self) -> None:
        member = MembershipFactory()
        link = make_draft(member.business)
        self.client.force_login(member.user)
        address = f"/for/rehearsal/{link.pk}/"
        answer = self.client.post(f"{address}pay/", filled_in(self.client.get(address)), follow=True)
        self.assertContains(answer, "Rehearsal")
        order = Order.objects.get()
        self.assertEqual((order.rehearsal, order.number), (True, 1))
        self.assertTrue(all(letter.rehearsal for letter in Letter.objects.all()))
        self.assertContains(self.client.get("/orders/"), "1 rehearsal is not shown")
        self.assertNotContains(self.client.get("/orders/"), "Maren")
        self.assertContains(self.client.get("/orders/?rehearsals=yes"), "Maren")
        self.assertEqual(Visit.objects.count(), 0)
        link = lifecycle.publish(link, NOW, by=BY)
        self.assertContains(self.client.get("/"), "no money")

    def test_a_draft_that_changed_since_is_shown_anew(self) -> None:
        member = MembershipFactory()
        link = make_draft(member.business)
        self.client.force_login(member.user)
        form = filled_in(self.client.get(f"/for/rehearsal/{link.pk}/"))
        change_price(link, 3000)
        self.assertContains(
            self.client.post(f"/for/rehearsal/{link.pk}/pay/", form), "The offer changed", status_code=409
        )


class CutOffTest(TestCase):
    """The server goes away between the intent and the answer."""

    def setUp(self) -> None:
        self.link: Link = make_live()
        self.form = open_page(self.client, self.link)

    def cut_off(self, where: str) -> None:
        with (
            mock.patch(where, side_effect=SystemExit),
            self.assertRaises(SystemExit),
        ):
            send(self.client, self.link, self.form)

    def look_up(self) -> int:
        return reconcile(present_ways(), timezone.now(), timezone.now)

    def test_before_the_charge_nothing_is_taken_and_the_buyer_may_try_again(self) -> None:
        self.cut_off("cravik.payments.counter.gateway.CounterGateway.charge")
        self.assertEqual(self.look_up(), 1)
        self.assertEqual((Attempt.objects.get().state, Order.objects.count()), ("void", 0))
        self.assertContains(self.client.get(f"/paid/{Checkout.objects.get().reference}/"), "This was not paid")
        self.assertEqual(send(self.client, self.link, open_page(self.client, self.link)).status_code, 303)
        self.assertEqual(Order.objects.count(), 1)

    def test_after_the_charge_the_order_is_made_at_the_next_start(self) -> None:
        self.cut_off("cravik.orders.paying.conclude.conclude")
        self.assertEqual((CounterCharge.objects.count(), Order.objects.count()), (1, 0))
        again = send(self.client, self.link, self.form)
        self.assertContains(self.client.get(again["Location"]), "Waiting for the answer")
        self.assertContains(
            send(self.client, self.link, open_page(self.client, self.link)), "You paid for this", status_code=409
        )
        self.assertEqual([self.look_up(), self.look_up()], [1, 0])
        self.assertEqual(
            (Order.objects.count(), CounterCharge.objects.count(), Letter.objects.filter(kind="receipt").count()),
            (1, 1, 1),
        )
        self.assertContains(self.client.get(again["Location"]), "Thank you, Maren")

    def test_in_the_middle_of_the_order_all_of_it_is_undone_and_done_again(self) -> None:
        self.cut_off("cravik.orders.acts.due_paid.enqueue_once")
        self.assertEqual((Order.objects.count(), Attempt.objects.get().state), (0, "pending"))
        self.look_up()
        self.assertEqual((Order.objects.get().number, Attempt.objects.get().state), (1001, "approved"))

    def test_a_lost_answer_is_waited_for_and_looked_up_by_the_page_itself(self) -> None:
        answer = send(self.client, self.link, self.form | {"card_number": FALLS_SILENT})
        self.assertContains(self.client.get(answer["Location"]), "Waiting for the answer")
        with time_machine.travel(timezone.now() + timedelta(seconds=31)):
            self.assertContains(self.client.get(answer["Location"]), "Thank you, Maren")
        self.assertEqual(Order.objects.count(), 1)

    def test_a_gateway_that_cannot_be_reached_charges_nothing(self) -> None:
        with mock.patch("cravik.payments.counter.gateway.CounterGateway.charge", side_effect=Unreachable):
            answer = send(self.client, self.link, self.form)
        self.assertContains(answer, "could not be reached")
        self.assertEqual(send(self.client, self.link, filled_in(answer)).status_code, 303)
        self.assertEqual((Order.objects.count(), CounterCharge.objects.filter(outcome="approved").count()), (1, 1))
