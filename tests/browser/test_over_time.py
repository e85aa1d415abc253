"""Each plan from offer to last payment with the clock moved, on both sides."""

from __future__ import annotations

import re
from datetime import timedelta
from threading import Event
from unittest import mock

from django.utils import timezone

from cravik.orders.models import Order
from cravik.orders.own_page import payments_path
from cravik.payments.counter.gateway import CounterGateway
from cravik.payments.counter.models import CounterCard, CounterKept
from cravik.payments.gateway import Charge
from cravik.payments.models import Agreement, Movement
from cravik.setup.models import RunningSettings
from tests.browser.base import NARROW, PHONE, BrowserTestCase, fill_in
from tests.links import line, make_link
from tests.over_time import DEPOSIT, ENDLESS, INSTALMENTS, buy, live, states


class OverTimeTest(BrowserTestCase):
    def test_a_seller_rehearses_a_year_in_a_minute(self) -> None:
        link = make_link(line(), business=self.business, published=False, offer={"plan": ENDLESS | {"trial_days": 14}})
        page = self.seller_page()
        page.goto(f"/for/rehearsal/{link.pk}/")
        fill_in(page, CounterCard.objects.get(conduct="fail_later", reason="insufficient_funds").number)
        page.get_by_text("You agree to this: nothing today").first.wait_for()
        page.get_by_role("button", name="Begin").click()
        page.get_by_role("link", name="Later payments, card and stopping").click()
        page.get_by_role("heading", name="What you agreed to").wait_for()
        page.get_by_role("link", name="Move its clock on").click()
        for _ in range(2):
            page.get_by_role("button", name="Go to").click()
            page.get_by_text("Something happened on 1 day.").wait_for()
        page.get_by_text("couldn't be taken").first.wait_for()
        page.get_by_role("button", name="A year on").click()
        page.get_by_text("Payments paused, since one could not be taken").wait_for()
        self.assert_accessible(page)

    def test_every_plan_is_lived_to_its_last_payment_on_both_sides(self) -> None:
        plans = {
            "repeats three times": ENDLESS | {"payments": 3},
            "instalments": INSTALMENTS,
            "deposit": DEPOSIT,
            "with a trial": ENDLESS | {"payments": 2, "trial_months": 1},
            "choice": {
                "kind": "choice",
                "of": [{"key": "parts", "plan": INSTALMENTS}, {"key": "once", "plan": {"kind": "once"}}],
            },
        }
        page = self.seller_page()
        for name, plan in plans.items():
            with self.subTest(name):
                link = make_link(line(), business=self.business, published=False, offer={"plan": plan})
                page.goto(f"/for/rehearsal/{link.pk}/")
                fill_in(page)
                page.get_by_role("button", name=re.compile("^(Pay €|Begin)")).first.click()
                page.get_by_role("link", name="Rehearse its later payments").click()
                page.get_by_role("button", name="A year on").click()
                page.get_by_text("nothing more happens").wait_for()
                order = Order.objects.latest("id")
                owed = order.checkout.dues.exclude(state="paid")
                self.assertEqual((owed.count(), order.checkout.agreement.why), (0, "completed"))
                page.get_by_role("link", name="The buyer's page of payments").click()
                page.get_by_text("All of it is paid.").wait_for()

    def test_instalments_are_bought_taken_and_finished(self) -> None:
        link = make_link(line(amount="90.00"), business=self.business, offer={"plan": INSTALMENTS})
        buyer = self.new_page(PHONE)
        buyer.goto(link.path)
        fill_in(buyer)
        buyer.get_by_role("button", name="Pay €30.00").click()
        buyer.get_by_role("link", name="Later payments, card and stopping").click()
        buyer.get_by_text("The next €30.00 is taken on").wait_for()
        today = timezone.localdate()
        live(self.business, today + timedelta(days=26), today + timedelta(days=65))
        buyer.reload()
        buyer.get_by_text("All of it is paid.").wait_for()
        seller = self.seller_page()
        seller.goto("/running/")
        seller.get_by_role("link", name=str(Order.objects.get().number)).click()
        seller.get_by_text("€90.00").first.wait_for()

    def test_a_declined_payment_is_paid_with_another_card_by_one_press(self) -> None:
        today = timezone.localdate()
        order = buy(self.business, ENDLESS, today - timedelta(days=40))
        CounterKept.objects.update(number="9000000000001017")
        live(self.business, today - timedelta(days=10), today)
        page = self.new_page(NARROW)
        page.goto(payments_path(order.checkout.reference))
        page.get_by_text("What is due").wait_for()
        self.assert_accessible(page)
        self.assert_fits(page)
        for label, typed in (("Card number", "9000000000000019"), ("Expiry", "09/49"), ("Security code", "123")):
            page.locator(".pay-later").get_by_label(label).fill(typed)
        charge, may_answer = CounterGateway.charge, Event()

        def charge_slowly(gateway: CounterGateway, sent: Charge) -> object:
            may_answer.wait(30)
            return charge(gateway, sent)

        with mock.patch.object(CounterGateway, "charge", charge_slowly):
            page.get_by_role("button", name="Pay", exact=False).dblclick(no_wait_after=True)
            other = page.context.new_page()
            other.goto(payments_path(order.checkout.reference))
            other.get_by_text("is being made just now").wait_for()
            self.assert_accessible(other)
            may_answer.set()
            other.get_by_text("is being made just now").wait_for(state="detached")
            page.get_by_text("Paid. A receipt is on its way to you.").wait_for()
        self.assertEqual((states(order)[1][1], Movement.objects.count()), ("paid", 2))
        self.assertEqual(Agreement.objects.get().state, "running")

    def test_without_script_more_is_paid_of_a_rest_and_what_runs_is_stopped(self) -> None:
        rules = {"rest": "asked", "stops": "now"}
        RunningSettings.objects.create(
            business=self.business, revision=1, decided_at=timezone.now() - timedelta(days=99), **rules
        )
        today = timezone.localdate()
        deposit = buy(self.business, DEPOSIT | {"buyer_may_pay_more": True}, today - timedelta(days=5))
        page = self.new_page(PHONE, java_script_enabled=False)
        page.goto(payments_path(deposit.checkout.reference))
        page.get_by_text("Pay the rest now").click()
        page.get_by_label("Another sum").check()
        page.get_by_label("The sum, in EUR").fill("100")
        page.get_by_role("button", name="Pay").click()
        page.get_by_text("at most what is left: €80.00").wait_for()
        page.get_by_label("The sum, in EUR").fill("30")
        page.get_by_label("The card ending in 0019").check()
        page.get_by_role("button", name="Pay").click()
        page.get_by_text("€50.00 left to pay").wait_for()
        club = buy(self.business, ENDLESS, today - timedelta(days=5))
        page.goto(payments_path(club.checkout.reference))
        page.get_by_role("link", name="Stop").click()
        page.get_by_label("Why").fill("<b>Wind</b>")
        page.get_by_role("button", name="Stop").click()
        page.get_by_text("Nothing more is taken").first.wait_for()
        self.assertEqual(Agreement.objects.get(checkout=club.checkout).why, "buyer")
