"""Random sequences of paying, declining, refunding and being killed: ledger, books, orders and results agree."""

from __future__ import annotations

import random
from collections.abc import Callable
from contextlib import suppress
from datetime import timedelta
from typing import Any
from unittest import mock

from django.db import connection
from django.test import TestCase
from django.utils import timezone

from cravik.core.pricing.money import Money
from cravik.journal.models import Facet
from cravik.links.models import Link
from cravik.orders.models import Order
from cravik.orders.paying.reconcile import reconcile
from cravik.orders.refunding import refund_order
from cravik.orders.takings import money_by
from cravik.payments.counter.gateway import CounterGateway, total_taken
from cravik.payments.models import Attempt, Movement
from cravik.payments.refunding import LessLeft
from cravik.setup.periods import Period
from tests.factories import BY, make_business
from tests.faults.links import nothing_leaks
from tests.links import line, make_link
from tests.paying import APPROVES, FALLS_SILENT, NEVER, NO_FUNDS, pay_live

SEQUENCES, STEPS = 300, 10
#: Where a process is killed, if at all: before the gateway is asked, or before its answer is written down.
_TAKE, _REFUNDING = "cravik.orders.paying.take", "cravik.orders.refunding"
_KILLED_PAYING = (None, None, None, f"{_TAKE}.call_gateway", f"{_TAKE}.record")
_KILLED_REFUNDING = (None, None, f"{_REFUNDING}.call_refund", f"{_REFUNDING}.conclude_refund")


class _Database:
    def query(self, sql: str, *parameters: Any) -> list[tuple[Any, ...]]:
        with connection.cursor() as cursor:
            cursor.execute(sql, parameters)
            return list(cursor.fetchall())


class BooksTest(TestCase):
    def setUp(self) -> None:
        self.business = make_business()
        self.links = [
            make_link(line(amount="24.00"), business=self.business),
            make_link(line(amount="0.00"), business=self.business),
            make_link(
                line(amount="7.35", quantity={"default": 2, "min": 1, "max": 5}),
                business=self.business,
                limits={"pieces": {"kite": 100_000}},
            ),
        ]
        self.gateway, self.number = CounterGateway(), 0

    def test_three_hundred_sequences(self) -> None:
        chance = random.Random(3200)
        acts: list[Callable[[random.Random], None]] = [self.pay, self.pay, self.refund, self.refund, self.settle]
        for sequence in range(SEQUENCES):
            for _ in range(chance.randint(3, STEPS)):
                chance.choice(acts)(chance)
            with self.subTest(sequence):
                self.assert_all_agree()
        paid, returned = (Movement.objects.filter(kind=kind).count() for kind in ("charge", "refund"))
        self.assertGreater(min(paid, returned), SEQUENCES // 2)

    def pay(self, chance: random.Random) -> None:
        self.number += 1
        link: Link = chance.choice(self.links)
        card = chance.choices((APPROVES, NO_FUNDS, FALLS_SILENT, NEVER), (6, 2, 1, 1))[0]
        form = {"email": f"b{self.number}@dunes.example", "card_number": card}
        killed = chance.choice(_KILLED_PAYING)
        with suppress(SystemExit):
            if killed:
                with mock.patch(killed, side_effect=SystemExit):
                    pay_live(self.client, link, **form)
            else:
                pay_live(self.client, link, **form)

    def refund(self, chance: random.Random) -> None:
        charges = list(Attempt.objects.filter(state="approved", amount_minor__gt=0).order_by("-id")[:12])
        if not charges:
            return
        charge = chance.choice(charges)
        order = Order.objects.get(checkout__dues__attempts=charge)
        self.number += 1
        amount = Money(chance.randint(1, charge.amount_minor), charge.currency)
        killed = chance.choice(_KILLED_REFUNDING)
        with suppress(SystemExit, LessLeft):
            if killed:
                with mock.patch(killed, side_effect=SystemExit):
                    refund_order(order, amount, f"r{self.number}", self.gateway, timezone.now(), by=BY)
            else:
                key = f"r{self.number}"
                for _ in range(chance.randint(1, 2)):
                    refund_order(order, amount, key, self.gateway, timezone.now(), by=BY)

    def settle(self, chance: random.Random) -> None:
        reconcile(self.gateway, timezone.now(), timezone.now())

    def assert_all_agree(self) -> None:
        later = timezone.now() + timedelta(minutes=20)
        reconcile(self.gateway, timezone.now(), later)
        self.assertEqual(nothing_leaks(_Database()), {})
        ledger = sum(Movement.objects.values_list("amount_minor", flat=True))
        books = total_taken(f"business-{self.business.pk}")
        self.assertEqual(sum(each.minor for each in books), ledger)
        self.assertEqual(sum(order.paid_minor or 0 for order in Order.objects.with_paid()), ledger)
        today = timezone.now().date()
        shown = money_by(Facet.LINK, self.business.pk, Period(today, today + timedelta(days=1), "UTC"))
        self.assertEqual(sum(each.minor for money in shown.values() for each in money), ledger)
