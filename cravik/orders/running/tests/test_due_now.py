"""The clock takes what is due on its seller's day, each due once, whatever happens in between."""

from __future__ import annotations

import re
from datetime import UTC, date, datetime, timedelta
from typing import Any
from unittest import mock

import time_machine
from django.db.models import Sum
from django.test import TestCase
from django.utils import timezone

from cravik.events.models import Event
from cravik.mailroom.models import Letter
from cravik.orders.acts.plan_ended import stop
from cravik.orders.acts.plan_paused import pause
from cravik.orders.models import Order
from cravik.orders.running.tasks import collect_what_is_due
from cravik.payments.counter.gateway import CounterGateway, total_taken
from cravik.payments.counter.models import CounterCharge, CounterKept
from cravik.payments.gateway import Unreachable
from cravik.payments.models import Agreement, Attempt, Movement
from cravik.people.actors import BUYER
from cravik.setup.models import RunningSettings
from tests.factories import MembershipFactory
from tests.over_time import (
    DEPOSIT,
    ENDLESS,
    INSTALMENTS,
    MONTHLY,
    PaymentsPage,
    buy,
    live,
    noon,
    states,
    subjects,
    work,
)
from tests.paying import APPROVES, APPROVES_TOO, NO_FUNDS

JAN_31 = date(2026, 1, 31)
ASKS_FIRST = "9000000000003013"
REFUSED = "9000000000001025"


class _Days(TestCase):
    def setUp(self) -> None:
        self.business = MembershipFactory(business__time_zone="Europe/Dublin").business

    def decide(self, **rules: object) -> None:
        at = datetime(2020, 1, 1, tzinfo=UTC)
        RunningSettings.objects.create(business=self.business, revision=1, decided_at=at, **rules)

    def fail_with(self, number: str) -> None:
        CounterKept.objects.update(number=number)

    def assert_books_agree(self) -> None:
        moved = Movement.objects.aggregate(sum=Sum("amount_minor"))["sum"]
        self.assertEqual([each.minor for each in total_taken(f"business-{self.business.pk}")], [moved])
        self.assertEqual(Order.objects.aggregate(sum=Sum("taken_minor"))["sum"], moved)

    def agreement(self) -> Agreement:
        return Agreement.objects.get()


class OnItsDayTest(_Days):
    def test_each_instalment_is_taken_once_on_its_day_with_a_document_and_a_letter(self) -> None:
        order = buy(self.business, INSTALMENTS, JAN_31)
        live(self.business, JAN_31, date(2026, 4, 10))
        self.assertEqual(
            states(order),
            [("2026-01-31", "paid", "33.34"), ("2026-02-28", "paid", "33.33"), ("2026-03-31", "paid", "33.33")],
        )
        moved = Movement.objects.order_by("id").values_list("at__date", flat=True)
        self.assertEqual([f"{day:%d %b}" for day in moved], ["31 Jan", "28 Feb", "31 Mar"])
        self.assertEqual((self.agreement().state, self.agreement().why), ("ended", "completed"))
        receipts = Letter.objects.filter(kind="payment_taken").order_by("id")
        self.assertEqual([len(each.enclosed) for each in receipts], [1, 1])
        self.assertIn("Next: €33.33 on 31 Mar 2026.", receipts[0].text)
        self.assertIn("all of it is paid", receipts[1].text)
        self.assert_books_agree()

    def test_the_day_is_the_seller_s(self) -> None:
        for zone, before, after in (
            ("Pacific/Auckland", "2026-02-27T10:59", "2026-02-27T11:01"),
            ("Pacific/Honolulu", "2026-02-28T09:59", "2026-02-28T10:01"),
            ("Europe/Dublin", "2026-02-27T23:59", "2026-02-28T00:01"),
        ):
            with self.subTest(zone):
                business = MembershipFactory(business__time_zone=zone).business
                order = buy(business, INSTALMENTS, JAN_31)
                work(datetime.fromisoformat(before).replace(tzinfo=UTC))
                self.assertEqual(states(order)[1][1], "open")
                work(datetime.fromisoformat(after).replace(tzinfo=UTC))
                self.assertEqual(states(order)[1][1], "paid")

    def test_run_twice_and_with_the_clock_set_back_nothing_is_taken_twice(self) -> None:
        order = buy(self.business, INSTALMENTS, JAN_31)
        for day in (28, 28, 20, 28, 27, 28):
            work(noon(date(2026, 2, day), self.business))
        self.assertEqual([state for _, state, _ in states(order)], ["paid", "paid", "open"])
        self.assertEqual(Movement.objects.count(), 2)

    def test_after_a_long_sleep_one_is_taken_and_the_others_wait_for_the_buyer(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        live(self.business, date(2026, 5, 2), date(2026, 5, 20))
        self.assertEqual([state for _, state, _ in states(order)][:5], ["paid", "paid", "open", "open", "open"])
        self.assertEqual(Movement.objects.count(), 2)
        (letter,) = Letter.objects.filter(kind="payments_wait")
        self.assertIn("2 payments", letter.subject)
        self.assertIn("€200.00", letter.text)
        with time_machine.travel(noon(date(2026, 5, 21), self.business), tick=False):
            page = PaymentsPage(order)
            self.assertIn("waits for you", page.text())
            self.assertIn("Paid. A receipt", page.pay(**{"with": "kept"}))
        self.assertEqual([state for _, state, _ in states(order)][:5], ["paid"] * 4 + ["open"])
        live(self.business, date(2026, 5, 31), date(2026, 5, 31))
        self.assertEqual(states(order)[4][1], "paid")
        self.assert_books_agree()

    def test_after_a_sleep_longer_than_what_is_listed_one_is_taken_too(self) -> None:
        daily = {"kind": "repeat", "every": {"count": 1, "unit": "day"}}
        order = buy(self.business, daily, JAN_31, "1.00")
        for minute in range(6):
            work(noon(date(2026, 3, 15), self.business) + timedelta(minutes=minute))
        self.assertEqual(Movement.objects.count(), 2, "the first, and one of those that are overdue")
        (letter,) = Letter.objects.filter(kind="payments_wait")
        self.assertIn("42 payments", letter.subject)
        live(self.business, date(2026, 3, 16), date(2026, 3, 18))
        self.assertEqual(Movement.objects.count(), 5, "and from then on each on its day")
        self.assertEqual([state for on, state, _ in states(order) if on > "2026-03-18"], ["open"] * 12)

    def test_what_costs_nothing_and_money_without_decimals(self) -> None:
        first = {"payments": 2, "prices": {"kite": {"kind": "fixed", "amount": "0"}}}
        order = buy(self.business, ENDLESS | {"first": first}, date(2028, 1, 29), "900", currency="JPY")
        live(self.business, date(2028, 2, 29), date(2028, 3, 29))
        self.assertEqual(
            states(order)[:3],
            [("2028-01-29", "paid", "0"), ("2028-02-29", "paid", "0"), ("2028-03-29", "paid", "900")],
        )
        self.assertEqual(Movement.objects.get().amount_minor, 900)

    def test_cut_off_before_and_after_the_charge_it_is_taken_once(self) -> None:
        for place in (
            "cravik.payments.counter.gateway.CounterGateway.charge",
            "cravik.orders.running.collecting.take_answer",
        ):
            with self.subTest(place):
                order = buy(self.business, INSTALMENTS, JAN_31)
                day = noon(date(2026, 2, 28), self.business)
                with mock.patch(place, side_effect=SystemExit), self.assertRaises(SystemExit):
                    work(day)
                for minutes in (1, 2, 20, 40):
                    work(day + timedelta(minutes=minutes))
                self.assertEqual(states(order)[1], ("2026-02-28", "paid", "33.33"))
        self.assertEqual(CounterCharge.objects.filter(outcome="approved").count(), 4)
        self.assert_books_agree()

    def test_while_the_processor_is_away_nobody_is_told_that_it_was_declined_and_all_is_taken_later(self) -> None:
        orders = [buy(self.business, INSTALMENTS, JAN_31) for _ in range(7)]
        day = noon(date(2026, 2, 28), self.business)
        with (
            mock.patch.object(CounterGateway, "charge", side_effect=Unreachable),
            mock.patch.object(CounterGateway, "look_up", side_effect=Unreachable),
            time_machine.travel(day, tick=False),
        ):
            collect_what_is_due.call()
        self.assertEqual(Attempt.objects.filter(by="clock").count(), 5, "the others wait until it is back")
        for minutes in (2, 3, 4, 30):
            work(day + timedelta(minutes=minutes))
        self.assertEqual({states(order)[1][1] for order in orders}, {"paid"})
        self.assertFalse(Letter.objects.filter(kind="payment_failed").exists())


class DeclinedTest(_Days):
    def test_it_is_tried_again_on_the_seller_s_days_and_then_paused_until_it_is_paid(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        self.fail_with(NO_FUNDS)
        live(self.business, date(2026, 2, 28), date(2026, 4, 2))
        tried = Attempt.objects.filter(by="clock").order_by("begun_at").values_list("begun_at", flat=True)
        self.assertEqual([f"{at:%d %b}" for at in tried], ["28 Feb", "02 Mar", "05 Mar", "09 Mar"])
        self.assertEqual((self.agreement().state, self.agreement().why), ("paused", "declined"))
        self.assertEqual(len(subjects(["payment_failed"])), 4)
        self.assertEqual(len(subjects(["payment_failed_notice"])), 4)
        first = Letter.objects.filter(kind="payment_failed").earliest("id")
        self.assertIn("There is not enough money on this card.", first.text)
        self.assertIn("tried again on 2 Mar 2026", first.text)
        self.assertEqual(subjects(["plan_changed"]), ["Kites: your payments are paused"])
        with time_machine.travel(noon(date(2026, 4, 3), self.business), tick=False):
            page = PaymentsPage(order)
            self.assertIn("It goes on once that is paid.", page.text())
            self.assertIn("There is not enough money", page.pay(NO_FUNDS))
            self.assertIn("Paid. A receipt", page.pay(APPROVES_TOO))
        self.assertEqual(self.agreement().state, "running")
        self.assertEqual([state for _, state, _ in states(order)][:4], ["paid", "paid", "skipped", "open"])
        live(self.business, date(2026, 4, 30), date(2026, 4, 30))
        self.assertEqual(states(order)[3][1], "paid")
        self.assertEqual(self.agreement().kept_card.ending, APPROVES_TOO[-4:])  # type: ignore[union-attr]
        self.assert_books_agree()

    def test_what_was_refused_for_good_is_not_tried_again_and_ends_where_its_seller_wants_it(self) -> None:
        self.decide(then="end", tries_after=[3, 6])
        order = buy(self.business, ENDLESS, JAN_31)
        self.fail_with(REFUSED)
        live(self.business, date(2026, 2, 28), date(2026, 3, 6))
        self.assertEqual(Attempt.objects.filter(by="clock").count(), 1)
        self.assertIn("Please pay by 6 Mar 2026.", Letter.objects.get(kind="payment_failed").text)
        self.assertEqual(self.agreement().state, "running")
        live(self.business, date(2026, 3, 7), date(2026, 4, 30))
        self.assertEqual(Attempt.objects.filter(by="clock").count(), 1)
        self.assertEqual((self.agreement().state, self.agreement().why), ("ended", "declined"))
        self.assertEqual({state for _, state, _ in states(order)[1:]}, {"cancelled"})

    def test_another_card_is_tried_at_once(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        self.fail_with(REFUSED)
        live(self.business, date(2026, 2, 28), date(2026, 3, 1))
        with time_machine.travel(noon(date(2026, 3, 2), self.business), tick=False):
            typed = {"new-card_number": APPROVES, "new-expiry": "09/49", "new-security_code": "123"}
            self.assertIn("Your card is changed.", PaymentsPage(order).press("card", **typed))
        live(self.business, date(2026, 3, 2), date(2026, 3, 2))
        self.assertEqual(states(order)[1][1:], ("paid", "100.00"))
        self.assertEqual(Movement.objects.count(), 2)

    def test_a_bank_that_asks_is_no_decline(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        self.fail_with(ASKS_FIRST)
        live(self.business, date(2026, 2, 28), date(2026, 3, 1))
        (letter,) = Letter.objects.filter(kind="payment_confirm")
        self.assertIn("until 3 Mar 2026", letter.text)
        self.assertFalse(Letter.objects.filter(kind="payment_failed").exists())
        with time_machine.travel(noon(date(2026, 3, 1), self.business), tick=False):
            page = PaymentsPage(order)
            self.assertIn("Confirm at your bank", page.text())
            charge = CounterCharge.objects.get(outcome="open")
            self.client.post(f"/counter/bank/{charge.reference}/", {"answer": "yes"})
            self.assertIn("The next €100.00", page.text())
        self.assertEqual(states(order)[1][1], "paid")

    def test_banks_that_ask_hold_up_nobody(self) -> None:
        orders = [buy(self.business, INSTALMENTS, JAN_31) for _ in range(7)]
        CounterKept.objects.filter(
            charge__key__in=Attempt.objects.filter(checkout__order__in=orders[:6]).values("key")
        ).update(number=ASKS_FIRST)
        work(noon(date(2026, 2, 28), self.business))
        self.assertEqual(len(subjects(["payment_confirm"])), 6)
        self.assertEqual(states(orders[6])[1][1], "paid")

    def test_who_does_not_confirm_is_asked_again(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        self.fail_with(ASKS_FIRST)
        live(self.business, date(2026, 2, 28), date(2026, 3, 4))
        self.assertEqual(states(order)[1][1], "failed")
        live(self.business, date(2026, 3, 5), date(2026, 3, 30))
        self.assertEqual(len(subjects(["payment_confirm"])), 2, "on 28 Feb and 5 Mar; there was no time for a third")
        self.assertEqual((self.agreement().state, self.agreement().why), ("paused", "declined"))


class ToldTest(_Days):
    def test_a_trial_s_end_is_told_three_days_before_and_stopping_in_time_costs_nothing(self) -> None:
        order = buy(self.business, ENDLESS | {"trial_days": 14}, JAN_31)
        live(self.business, JAN_31, date(2026, 2, 10))
        self.assertEqual(subjects(["payment_comes"]), [])
        live(self.business, date(2026, 2, 11), date(2026, 2, 13))
        (letter,) = Letter.objects.filter(kind="payment_comes")
        self.assertEqual(
            (letter.subject, letter.written_at.date()), ("€100.00 for Kites on 14 Feb 2026", date(2026, 2, 11))
        )
        self.assertIn("Your trial ends then", letter.text)
        with time_machine.travel(noon(date(2026, 2, 13), self.business), tick=False):
            last = stop(order, timezone.now(), date(2026, 2, 13), by=BUYER, at_once=False)
        self.assertEqual(last, date(2026, 2, 13))
        live(self.business, date(2026, 2, 13), date(2026, 4, 1))
        self.assertEqual((Movement.objects.count(), self.agreement().why), (0, "buyer"))

    def test_the_rest_of_a_deposit_is_told_and_taken(self) -> None:
        order = buy(self.business, DEPOSIT, JAN_31)
        live(self.business, date(2026, 2, 20), date(2026, 3, 4))
        self.assertEqual(subjects(["payment_comes"]), ["€80.00 for Kites on 2 Mar 2026"])
        self.assertEqual(states(order)[1], ("2026-03-02", "paid", "80.00"))

    def test_or_only_asked_for_before_and_on_its_day(self) -> None:
        self.decide(rest="asked", tell_days=7)
        order = buy(self.business, DEPOSIT | {"buyer_may_pay_more": True}, JAN_31)
        live(self.business, date(2026, 2, 20), date(2026, 3, 4))
        told = Letter.objects.filter(kind="payment_comes").order_by("id")
        self.assertEqual([f"{each.written_at:%d %b}" for each in told], ["23 Feb", "02 Mar"])
        self.assertEqual(states(order)[1], ("2026-03-02", "open", "0.00"))
        with time_machine.travel(noon(date(2026, 3, 4), self.business), tick=False):
            page = PaymentsPage(order)
            self.assertIn(
                "at most what is left: €80.00", page.send("pay", what="some", sum="80.01", **_CARD).content.decode()
            )
            self.assertIn("Paid.", page.pay(what="some", sum="30,00"))
            self.assertIn("€50.00 left to pay", page.text())
            self.assertIn("Paid.", page.pay(what="due"))
        self.assertEqual(states(order)[1][1], "paid")
        self.assertEqual((self.agreement().why, Movement.objects.count()), ("completed", 3))
        self.assert_books_agree()

    def test_what_is_left_of_a_rest_of_which_a_part_was_paid_is_still_told_and_taken(self) -> None:
        order = buy(self.business, DEPOSIT | {"buyer_may_pay_more": True}, JAN_31)
        with time_machine.travel(noon(date(2026, 2, 10), self.business), tick=False):
            self.assertIn("Paid.", PaymentsPage(order).pay(what="some", sum="30"))
        live(self.business, date(2026, 2, 20), date(2026, 3, 4))
        self.assertEqual(subjects(["payment_comes"]), ["€50.00 for Kites on 2 Mar 2026"])
        self.assertEqual([each.amount_minor for each in Movement.objects.order_by("id")], [2000, 3000, 5000])
        self.assertEqual(states(order)[1][1:], ("paid", "80.00"))


_CARD = {"card_number": APPROVES, "expiry": "09/49", "security_code": "123", "with": "another"}


class OldTabTest(_Days):
    def test_what_was_paid_in_another_tab_is_not_paid_once_more(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        with time_machine.travel(noon(date(2026, 2, 10), self.business), tick=False):
            page = PaymentsPage(order)
            seen = re.search(r'name="seen" value="([^"]+)"', page.text())
            assert seen
            self.assertIn("Paid. A receipt", page.pay(**{"with": "kept"}))
            self.assertIn("no longer possible", page.pay(**{"with": "kept", "seen": seen[1]}))
            self.assertContains(page.send("pay"), "Choose a card.", status_code=400)
        self.assertEqual(Movement.objects.count(), 2)

    def test_a_second_press_while_the_first_is_with_the_processor_waits_for_its_answer(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        charge, between = CounterGateway.charge, []

        def charge_while_pressed_again(gateway: CounterGateway, request: Any) -> Any:
            first = Attempt.objects.latest("id")
            sent = {"act": "pay", "press": first.key.partition(f"own-{order.pk}-")[2]}
            between.append(page.client.get(page.client.post(page.address, sent)["Location"]))
            return charge(gateway, request)

        with time_machine.travel(noon(date(2026, 2, 10), self.business), tick=False):
            page = PaymentsPage(order)
            with mock.patch.object(CounterGateway, "charge", charge_while_pressed_again):
                self.assertIn("Paid. A receipt", page.pay(**{"with": "kept"}))
            self.assertContains(between[0], "is being made just now")
            self.assertNotContains(between[0], "Use another card")
            self.assertEqual((between[0]["X-Answered"], page.open()["X-Answered"]), ("no", "yes"))
        self.assertEqual(Movement.objects.count(), 2)


class StoppedTest(_Days):
    def test_at_the_end_of_what_is_paid(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        with time_machine.travel(noon(date(2026, 2, 10), self.business), tick=False):
            page = PaymentsPage(order)
            path = page.text().partition('<a class="act" href="')[2].partition('"')[0]
            self.assertContains(page.client.get(path), "runs until 27 Feb 2026")
            shown = page.client.get(page.client.post(path, {"why": "Too much wind"})["Location"])
            self.assertContains(shown, "Nothing more is taken; what you paid for runs until 27 Feb 2026.")
            self.assertEqual(page.client.post(path, {"why": ""}).status_code, 303)
        live(self.business, date(2026, 2, 26), date(2026, 4, 1))
        self.assertEqual(Movement.objects.count(), 1)
        agreement = self.agreement()
        self.assertEqual((agreement.state, agreement.stop_words), ("ended", "Too much wind"))
        self.assertEqual(f"{agreement.ended_at:%d %b}", "28 Feb")
        self.assertEqual(len(subjects(["plan_changed"])), 1)
        self.assertIn("Too much wind", Letter.objects.get(kind="plan_changed_notice").text)

    def test_at_once_or_by_asking_alone(self) -> None:
        self.decide(stops="now")
        order = buy(self.business, ENDLESS, JAN_31)
        with time_machine.travel(noon(date(2026, 2, 10), self.business), tick=False):
            path = PaymentsPage(order).text().partition('<a class="act" href="')[2].partition('"')[0]
            self.client.post(path, {})
        self.assertEqual(self.agreement().state, "ended")
        RunningSettings.objects.update(stops="ask")
        other = buy(self.business, ENDLESS, JAN_31)
        self.assertIn("To stop, write to", PaymentsPage(other).text())

    def test_what_falls_into_a_pause_is_left_out(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        with time_machine.travel(noon(date(2026, 2, 10), self.business), tick=False):
            pause(order, timezone.now(), by=BUYER, resumes_on=date(2026, 4, 1))
        live(self.business, date(2026, 2, 20), date(2026, 5, 1))
        self.assertEqual([state for _, state, _ in states(order)][:5], ["paid", "skipped", "skipped", "paid", "open"])
        ahead = [state for _, state, _ in states(order)].count("open")
        self.assertEqual(ahead, 12, "as many as ever stay ahead")
        kinds = list(Event.objects.filter(order_id=order.pk, kind__startswith="running").values_list("kind", flat=True))
        self.assertEqual(kinds, ["running.paused", "running.resumed"])

    def test_skipping_is_for_those_who_may(self) -> None:
        self.decide(may_skip=True)
        order = buy(self.business, {"kind": "repeat", "every": MONTHLY, "payments": 4}, JAN_31)
        with time_machine.travel(noon(date(2026, 2, 10), self.business), tick=False):
            page = PaymentsPage(order)
            self.assertIn("The payment is skipped.", page.press("skip", position="1"))
            self.assertIn("no longer possible", page.press("skip", position="1"))
        live(self.business, date(2026, 2, 20), date(2026, 5, 1))
        self.assertEqual([state for _, state, _ in states(order)], ["paid", "skipped", "paid", "paid"])
        self.assertEqual(self.agreement().why, "completed")
        RunningSettings.objects.update(may_skip=False)
        other = buy(self.business, ENDLESS, JAN_31)
        self.assertIn("no longer possible", PaymentsPage(other).press("skip", position="1"))
