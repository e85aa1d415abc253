"""Random sequences of paying, paying what is due later, declining, refunding and being killed: ledger, books, orders,
dues, results, documents, the journal and buyers' pages agree. About half an hour."""

from __future__ import annotations

import csv
import io
import random
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from datetime import timedelta
from decimal import Decimal
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

from django.db import connection
from django.test import TestCase
from django.utils import timezone

from cravik.buyers.models import Buyer
from cravik.core.pricing.money import Money
from cravik.journal.models import Facet
from cravik.links.models import Link
from cravik.orders.invoicing.issuing import issue_what_is_due
from cravik.orders.journal import as_journal
from cravik.orders.models import IssuedDocument, Order
from cravik.orders.paying.reconcile import reconcile
from cravik.orders.purchases.content import purchases_of
from cravik.orders.refunding import RefundWish, refund_order
from cravik.orders.running.collecting import NothingToCollect, collect
from cravik.orders.takings import money_by
from cravik.payments.counter.gateway import total_taken
from cravik.payments.counter.models import CounterKept
from cravik.payments.dues import DueBeingPaid
from cravik.payments.models import Agreement, Attempt, Due, Movement
from cravik.payments.refunding import LessLeft
from cravik.payments.ways import present_ways
from cravik.people.actors import CLOCK
from cravik.setup.periods import Period
from tests.factories import BY, make_business
from tests.faults.links import nothing_leaks
from tests.links import line, make_link
from tests.paying import APPROVES, FALLS_SILENT, NEVER, NO_FUNDS, pay_live

SEQUENCES, STEPS = 2_000, 10
#: Documents, journal and buyers' pages are looked at whole, which takes long, once in so many sequences.
SELDOM = 250
#: Where a process is killed, if at all: before the gateway is asked, or before its answer is written down.
_ASKING = "cravik.payments.ways.card.CardWay"
_KILLED_PAYING = (None, None, None, f"{_ASKING}.ask", "cravik.orders.paying.take.take_answer")
_KILLED_COLLECTING = (None, None, None, f"{_ASKING}.ask", "cravik.orders.running.collecting.take_answer")
_KILLED_REFUNDING = (None, None, f"{_ASKING}.refund", "cravik.orders.refunding.return_money")
TAXED = {
    "tax": {
        "seller_country": "IE",
        "prices_include_tax": True,
        "rates": [
            {"country": "IE", "name": "VAT", "percent": "23"},
            {"country": "IE", "name": "Levy", "percent": "1.5"},
        ],
    },
    "fee": {"percent": "1.5", "fixed": "0.25"},
}
_MONTHLY = {"count": 1, "unit": "month"}


class _Database:
    def query(self, sql: str, *parameters: Any) -> list[tuple[Any, ...]]:
        with connection.cursor() as cursor:
            cursor.execute(sql, parameters)
            return list(cursor.fetchall())


class BooksTest(TestCase):
    def setUp(self) -> None:
        self.business = make_business()
        self.links = [
            make_link(line(amount="24.00"), business=self.business, offer=TAXED),
            make_link(line(amount="0.00"), business=self.business),
            make_link(
                line(amount="7.35", quantity={"default": 2, "min": 1, "max": 5}),
                business=self.business,
                offer=TAXED,
                limits={"pieces": {"kite": 100_000}},
            ),
        ]
        with mock.patch("cravik.links.life.lifecycle.why_not_publishable", return_value=()):
            self.links += [
                make_link(line(amount="100.00"), business=self.business, offer=TAXED | {"plan": plan})
                for plan in (
                    {"kind": "instalments", "every": _MONTHLY, "payments": 4},
                    {"kind": "deposit", "percent": "20", "rest_after_days": 30},
                    {"kind": "repeat", "every": _MONTHLY, "trial_days": 14},
                )
            ]
        self.number = 0

    def test_two_thousand_sequences(self) -> None:
        chance = random.Random(3200)
        acts: list[Callable[[random.Random], None]] = [
            *(self.pay, self.pay, self.collect, self.collect, self.refund, self.refund, self.settle)
        ]
        for sequence in range(SEQUENCES):
            for _ in range(chance.randint(3, STEPS)):
                chance.choice(acts)(chance)
            with self.subTest(sequence):
                self.assert_all_agree()
                if (sequence + 1) % SELDOM == 0:
                    self.assert_documents_agree()
        paid, returned = (Movement.objects.filter(kind=kind).count() for kind in ("charge", "refund"))
        states = Counter(Due.objects.filter(position__gt=0).values_list("state", flat=True))
        self.assertGreater(min(paid, returned, states["paid"]), SEQUENCES // 2)
        self.assertGreater(min(states["part"], states["failed"]), 10)

    def pay(self, chance: random.Random) -> None:
        self.number += 1
        link: Link = chance.choice(self.links)
        card = chance.choices((APPROVES, NO_FUNDS, FALLS_SILENT, NEVER), (6, 2, 1, 1))[0]
        form = {"email": f"b{self.number % 400}@dunes.example", "card_number": card, "country": "IE"}
        with self.maybe_killed(chance.choice(_KILLED_PAYING)):
            pay_live(self.client, link, **form)

    def collect(self, chance: random.Random) -> None:
        """Some of what is due later of some order, with its card or one that is declined; now and then a part of it."""
        running = list(Agreement.objects.filter(state="running").order_by("-id")[:12])
        if not running:
            return
        agreement = chance.choice(running)
        order = Order.objects.get(checkout=agreement.checkout_id)
        open_ones = order.checkout.dues.filter(state__in=Due.UNPAID).order_by("position")
        positions = list(open_ones.values_list("position", flat=True)[: chance.randint(1, 3)])
        left = sum(due.left.minor for due in order.checkout.dues.filter(position__in=positions))
        amount = None if chance.random() < 0.6 or left == 0 else Money(chance.randint(1, left), order.currency)
        card = chance.choices((APPROVES, NO_FUNDS, FALLS_SILENT, NEVER), (6, 2, 1, 1))[0]
        CounterKept.objects.filter(token=agreement.kept_card.token if agreement.kept_card else "").update(number=card)
        self.number += 1
        now, key = timezone.now(), f"c{self.number}"
        with self.maybe_killed(chance.choice(_KILLED_COLLECTING)), suppress(NothingToCollect, DueBeingPaid):
            for _ in range(chance.randint(1, 2)):
                collect(order, positions, key, present_ways(), lambda: now, by=CLOCK, amount=amount)

    @contextmanager
    def maybe_killed(self, where: str | None) -> Iterator[None]:
        with suppress(SystemExit):
            if where:
                with mock.patch(where, side_effect=SystemExit):
                    yield
            else:
                yield

    def refund(self, chance: random.Random) -> None:
        charges = list(Attempt.objects.filter(state="approved", amount_minor__gt=0).order_by("-id")[:12])
        if not charges:
            return
        charge = chance.choice(charges)
        order = Order.objects.get(checkout=charge.checkout_id)
        self.number += 1
        amount = Money(chance.randint(1, charge.amount_minor), charge.currency)
        key, reference = f"r{self.number}", charge.gateway_reference
        with self.maybe_killed(chance.choice(_KILLED_REFUNDING)), suppress(LessLeft):
            for _ in range(chance.randint(1, 2)):
                refund_order(
                    order, RefundWish(amount), key, present_ways(), timezone.now, by=BY, charge_reference=reference
                )

    def settle(self, chance: random.Random) -> None:
        reconcile(present_ways(), timezone.now(), timezone.now)

    def assert_all_agree(self) -> None:
        later = timezone.now() + timedelta(minutes=20)
        reconcile(present_ways(), timezone.now(), lambda: later)
        self.assertEqual(nothing_leaks(_Database()), {})
        ledger = sum(Movement.objects.values_list("amount_minor", flat=True))
        books = total_taken(f"business-{self.business.pk}")
        self.assertEqual(sum(each.minor for each in books), ledger)
        self.assertEqual(sum(order.taken_minor for order in Order.objects.all()), ledger)
        today = timezone.now().date()
        shown = money_by(Facet.LINK, self.business.pk, Period(today, today + timedelta(days=1), "UTC"))
        self.assertEqual(sum(each.minor for money in shown.values() for each in money), ledger)

    def assert_documents_agree(self) -> None:
        """Of every movement its document, of that sum; no number missing or twice; the journal and buyers' pages say
        what the ledger says."""
        issue_what_is_due(timezone.now())
        documents = list(IssuedDocument.objects.select_related("movement"))
        for kind, moved in (("receipt", "charge"), ("correction", "refund")):
            ledger = dict(Movement.objects.filter(kind=moved).values_list("id", "amount_minor"))
            issued = {each.movement_id: each.total_minor for each in documents if each.kind == kind}
            self.assertEqual(issued, {pk: abs(minor) for pk, minor in ledger.items()})
        for stem in {each.stem for each in documents}:
            numbers = sorted(each.number for each in documents if each.stem == stem)
            self.assertEqual(numbers, list(range(1, len(numbers) + 1)), stem)
        for order in Order.objects.filter(is_refunded=True):
            of_order = [each for each in documents if each.order_id == order.pk]
            taxes = [
                sum(each.tax_minor for each in of_order if each.kind == kind) for kind in ("receipt", "correction")
            ]
            self.assertEqual(taxes[0], taxes[1], f"all of {order} went back, and not all of its tax")
        journal = b"".join(as_journal(Order.objects.order_by("id"), ZoneInfo("UTC")).streaming_content)  # type: ignore[arg-type]  # bytes
        rows = list(csv.DictReader(io.StringIO(journal.decode("utf-8-sig"))))
        moved_in_journal = sum(Decimal(row["amount"]) for row in rows if row["kind"] in ("payment", "refund"))
        ledger_sum = sum(Movement.objects.values_list("amount_minor", flat=True))
        self.assertEqual(moved_in_journal * 100, ledger_sum)
        taxed = sum(Decimal(row["amount"]) for row in rows if row["kind"] == "tax") * 100
        signs = {"receipt": 1, "correction": -1, "invoice": 0}
        self.assertEqual(taxed, sum(signs[each.kind] * each.tax_minor for each in documents))
        shown = (each.order for buyer in Buyer.objects.all() for each in purchases_of(buyer, timezone.now()))
        self.assertEqual(sum((order.charged + order.returned).minor for order in shown), ledger_sum)
