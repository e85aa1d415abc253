"""Years of running orders: every due of the plan is paid once or told as open, whatever happens to the clock.

Three years of 300 orders in the proofs, and less in a quick run: declines, other cards, stops, skips, pauses, kills in
the middle of a charge, and a worker that sleeps for weeks.
"""

from __future__ import annotations

import random
from collections import Counter
from contextlib import suppress
from datetime import date, timedelta
from typing import Any
from unittest import mock

import time_machine
from django.db.models import Sum
from django.test import TestCase
from django.utils import timezone

from cravik.mailroom.models import Letter
from cravik.orders.acts import due_changed
from cravik.orders.acts.plan_ended import stop
from cravik.orders.acts.plan_paused import NotRunning, pause, resume
from cravik.orders.models import IssuedDocument, Order
from cravik.orders.running.due_now import take_what_is_due
from cravik.orders.running.payments import payments_of
from cravik.payments.counter.gateway import total_taken
from cravik.payments.counter.models import CounterKept
from cravik.payments.dues import DueBeingPaid
from cravik.payments.models import Agreement, Allocation, Attempt, Due, Movement
from cravik.payments.ways import present_ways
from cravik.people.actors import BUYER
from cravik.setup.models import RunningSettings
from tests.factories import MembershipFactory
from tests.over_time import DEPOSIT, ENDLESS, INSTALMENTS, MONTHLY, PaymentsPage, buy, noon, work
from tests.paying import APPROVES, NO_FUNDS
from tests.sampling import count_of

ORDERS, DAYS = count_of(300, 10), count_of(3 * 365, 150)
REFUSED, ASKS = "9000000000001025", "9000000000003013"
PLANS: tuple[dict[str, Any], ...] = (
    INSTALMENTS,
    ENDLESS,
    DEPOSIT | {"buyer_may_pay_more": True},
    ENDLESS | {"trial_days": 14},
    ENDLESS | {"every": {"count": 2, "unit": "week"}},
    {"kind": "repeat", "every": MONTHLY, "payments": 7},
    {"kind": "instalments", "every": {"count": 1, "unit": "week"}, "payments": 5},
)


class YearsTest(TestCase):
    def setUp(self) -> None:
        self.business = MembershipFactory(business__time_zone="Europe/Dublin").business
        RunningSettings.objects.create(
            business=self.business,
            revision=1,
            decided_at=noon(date(2020, 1, 1), self.business),
            may_skip=True,
            may_pause=True,
        )
        self.chance = random.Random(35)

    def test_every_due_is_paid_once_or_told_as_open(self) -> None:
        first = date(2026, 1, 30)
        orders = [
            buy(
                self.business,
                self.chance.choice(PLANS),
                first + timedelta(days=number % 28),
                f"{self.chance.randint(5, 90)}.00",
            )
            for number in range(ORDERS)
        ]
        planned = {order.pk: self.plan_of(order) for order in orders}
        day = first + timedelta(days=28)
        while day < first + timedelta(days=DAYS):
            self.live_a_day(day, orders)
            day += timedelta(
                days=self.chance.choice((1, 1, 1, 1, 1, 1, 1, 1, 9, 45)) if self.chance.random() < 0.04 else 1
            )
        for after in range(1, 5):
            work(noon(day + timedelta(days=after), self.business))
        self.assert_books_agree()
        self.assert_dues(orders, planned, day + timedelta(days=4))
        states = Counter(Agreement.objects.values_list("state", "why"))
        print(f"{ORDERS} orders, {DAYS} days: {Movement.objects.count()} charges, {dict(states)}")

    def plan_of(self, order: Order) -> list[tuple[int, str, int]]:
        dues = Due.objects.filter(checkout=order.checkout_id).order_by("position")
        return [(due.position, due.on.isoformat(), due.amount_minor) for due in dues]

    def live_a_day(self, day: date, orders: list[Order]) -> None:
        at = noon(day, self.business)
        for order in self.chance.sample(orders, max(1, len(orders) // 30)):
            self.do_something(order, day)
        if self.chance.random() < 0.05:  # killed in the middle of a charge, before or after it was made
            place = self.chance.choice(
                ("payments.counter.gateway.CounterGateway.charge", "orders.running.collecting.take_answer")
            )
            with (
                mock.patch(f"cravik.{place}", side_effect=SystemExit),
                time_machine.travel(at, tick=False),
                suppress(SystemExit),
            ):
                take_what_is_due(present_ways(), timezone.now)
        work(at + timedelta(minutes=1))
        if self.chance.random() < 0.1:
            work(at - timedelta(days=2))  # a clock that was set back
        work(at + timedelta(minutes=30))

    def do_something(self, order: Order, day: date) -> None:
        kept = CounterKept.objects.filter(charge__key__in=order.checkout.attempts.values("key"))
        with time_machine.travel(noon(day, self.business), tick=False):
            now = timezone.now()
            try:
                match self.chance.randint(0, 11):
                    case 0 | 1:
                        kept.update(number=self.chance.choice((NO_FUNDS, REFUSED, ASKS)))
                    case 2 | 3 | 4 | 5:
                        kept.update(number=APPROVES)
                    case 6:
                        stop(order, now, day, by=BUYER, at_once=self.chance.random() < 0.3)
                    case 7:
                        shown = payments_of(order, day)
                        if shown and shown.following:
                            due_changed.skip(order, shown.following.position, now, by=BUYER)
                    case 8:
                        pause(order, now, by=BUYER, resumes_on=day + timedelta(days=self.chance.randint(5, 80)))
                    case 9:
                        resume(order, now, day, by=BUYER)
                    case _:
                        page = PaymentsPage(order)
                        if 'value="pay"' in page.text():
                            page.send(
                                "pay",
                                **{
                                    "with": "another",
                                    "card_number": APPROVES,
                                    "expiry": "09/49",
                                    "security_code": "123",
                                    "what": "due",
                                },
                            )
            except (NotRunning, DueBeingPaid, due_changed.NoSuchDue):
                pass

    def assert_books_agree(self) -> None:
        moved = Movement.objects.aggregate(sum=Sum("amount_minor"))["sum"]
        self.assertEqual([each.minor for each in total_taken(f"business-{self.business.pk}")], [moved])
        self.assertEqual(Order.objects.aggregate(sum=Sum("taken_minor"))["sum"], moved)
        self.assertEqual(Due.objects.aggregate(sum=Sum("paid_minor"))["sum"], moved)
        self.assertEqual(IssuedDocument.objects.filter(kind="receipt").count(), Movement.objects.count())
        later = Attempt.objects.filter(
            state="approved", amount_minor__gt=0, allocations__due__position__gt=0
        ).distinct()
        self.assertEqual(Letter.objects.filter(kind="payment_taken").count(), later.count())
        twice = Counter(Letter.objects.values_list("kind", "occasion"))
        self.assertEqual([occasion for occasion, count in twice.items() if count > 1], [])

    def assert_dues(self, orders: list[Order], planned: dict[int, list[tuple[int, str, int]]], today: date) -> None:
        for order in orders:
            agreement = Agreement.objects.get(checkout=order.checkout_id)
            dues = {due.position: due for due in Due.objects.filter(checkout=order.checkout_id)}
            for position, on, minor in planned[order.pk]:
                self.assertEqual(
                    (dues[position].on.isoformat(), dues[position].amount_minor), (on, minor), "as it was agreed"
                )
            for due in dues.values():
                brought = (
                    Allocation.objects.filter(due=due, attempt__state="approved").aggregate(sum=Sum("amount_minor"))[
                        "sum"
                    ]
                    or 0
                )
                self.assertEqual(brought, due.paid_minor, "each is paid by what was charged for it")
                self.assertLessEqual(due.paid_minor, due.amount_minor, "never more than agreed")
                if due.on < today - timedelta(days=1) and due.state in Due.UNPAID and agreement.state == "running":
                    waits = due.collect_on is None or due.collect_on >= today - timedelta(days=1)
                    told = Letter.objects.filter(
                        order_id=order.pk,
                        kind__in=["payments_wait", "payment_failed", "payment_confirm", "payment_comes"],
                    )
                    self.assertTrue(
                        (waits and told.exists()) or due.allocations.filter(undecided=True).exists(),
                        (due.on, due.state, due.collect_on),
                    )
            if agreement.ended_at is not None:
                after = Movement.objects.filter(
                    checkout=order.checkout_id, at__gt=agreement.ended_at + timedelta(minutes=1)
                )
                begun = Attempt.objects.filter(movement__in=after, begun_at__gt=agreement.ended_at)
                self.assertFalse(begun.exists(), "after its end nothing is taken")
