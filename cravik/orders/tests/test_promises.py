"""A way to pay whose money comes days later, or not at all: the order is made, and counts once it is paid."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any

import time_machine
from django.test import TestCase
from django.utils import timezone

from cravik.core.statistics.ladder import Rung
from cravik.events.models import Event
from cravik.journal.models import Visit
from cravik.links.models import LinkTally
from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from cravik.orders.paying.making_room import make_room
from cravik.orders.paying.reconcile import reconcile
from cravik.orders.queries import last_paid_by_link
from cravik.payments.models import Attempt, Due, Hold, Movement
from tests.factories import BROWSER, MembershipFactory, make_business
from tests.links import line, make_link
from tests.paying import filled_in, send
from tests.promise import DAYS, PromiseWay, promises_taken


class PromiseTest(TestCase):
    def setUp(self) -> None:
        self.way: PromiseWay = self.enterContext(promises_taken())
        self.ways = {"promise": self.way}
        self.business = MembershipFactory(business__ways={"EUR": ["card", "promise"]}).business
        self.link = make_link(line(amount="24.00"), business=self.business, limits={"orders": 2})

    def page(self) -> Any:
        return self.client.get(self.link.path, headers={"user-agent": BROWSER})

    def promise(self, email: str = "maren@dunes.example") -> Any:
        form = filled_in(self.page(), way="promise", email=email, card_number="")
        self.answer = send(self.client, self.link, form)
        return self.answer

    def tally(self) -> tuple[int, int]:
        paid, held = LinkTally.objects.values_list("paid", "held").get(link=self.link)
        return paid, held

    def test_the_buyer_chooses_it_and_is_told_that_it_is_not_paid_yet(self) -> None:
        named = re.findall(r'name="way" value="(\w+)"', self.page().content.decode())
        self.assertEqual(named, ["card", "promise"])
        answer = self.promise()
        self.assertEqual((answer.status_code, answer.get("X-Outcome")), (303, None))
        shown = self.client.get(answer["Location"])
        self.assertContains(shown, "Ordered, and not paid yet")
        self.assertContains(shown, "€24.00")
        self.assertNotContains(self.client.get(Order.objects.get().checkout.path), "24.00")

    def test_it_counts_neither_as_an_order_nor_as_money_nor_as_paid(self) -> None:
        self.promise()
        order = Order.objects.get()
        self.assertEqual((order.paid_at, order.paid.minor, Order.objects.counted().count()), (None, 0, 0))
        self.assertEqual((self.tally(), last_paid_by_link(self.business)), ((0, 1), {}))
        self.assertFalse(Movement.objects.exists() or Letter.objects.exists() or order.letters_due)
        self.assertLess(Visit.objects.get().rung, Rung.PAID)
        self.assertEqual(Event.objects.latest("id").kind, "order.made")

    def test_what_is_scarce_is_held_as_long_as_the_way_says(self) -> None:
        self.promise()
        self.promise("jory@dunes.example")
        self.assertGreater(Hold.objects.earliest("id").until, timezone.now() + DAYS - timedelta(hours=1))
        later = timezone.now() + timedelta(days=6)
        self.assertEqual(reconcile(self.ways, later, lambda: later), 0)
        self.assertFalse(make_room(self.link.pk, [], self.ways, lambda: later), "it gives way to nobody")
        self.assertEqual(self.tally(), (0, 2))
        self.assertContains(self.page(), 'data-closed="all_held"', status_code=200)

    def test_it_counts_once_the_money_has_come_however_often_that_is_told(self) -> None:
        self.promise()
        self.way.money_comes(Attempt.objects.get())
        with time_machine.travel(timezone.now() + timedelta(days=3)):
            self.assertEqual(reconcile(self.ways, timezone.now(), timezone.now), 1)
            self.assertEqual(reconcile(self.ways, timezone.now(), timezone.now), 0)
        order = Order.objects.get()
        self.assertEqual((order.paid.minor, Order.objects.counted().count(), self.tally()), (2400, 1, (1, 0)))
        self.assertGreater(order.paid_at or order.made_at, order.made_at + timedelta(days=2))
        self.assertEqual((Due.objects.get().state, Visit.objects.get().rung), ("paid", Rung.PAID))
        told = list(Event.objects.filter(order_id=order.pk).order_by("id").values_list("kind", flat=True))
        self.assertEqual(told, ["order.made", "due.paid", "order.document"])
        self.assertContains(self.client.get(self.answer["Location"]), "<dt>Transfer</dt>", html=True)

    def test_money_that_does_not_come_leaves_nothing_behind(self) -> None:
        self.promise()
        with time_machine.travel(timezone.now() + DAYS + timedelta(minutes=1)):
            self.assertEqual(reconcile(self.ways, timezone.now(), timezone.now), 1)
            shown = self.client.get(Order.objects.get().checkout.path)
        self.assertContains(shown, "not paid in time")
        self.assertEqual((Order.objects.counted().count(), self.tally()), (0, (0, 0)))
        self.assertEqual((Due.objects.get().state, Event.objects.latest("id").kind), ("cancelled", "order.not_paid"))

    def test_the_page_leads_to_the_same_order_however_often_it_is_sent(self) -> None:
        form = filled_in(self.page(), way="promise", card_number="")
        first, again = (send(self.client, self.link, form) for _ in range(2))
        self.assertEqual(first["Location"].partition("?")[0], again["Location"].partition("?")[0])
        self.assertEqual(Order.objects.count(), 1)

    def test_by_card_it_is_paid_at_once_beside_it(self) -> None:
        send(self.client, self.link, filled_in(self.page()))
        self.assertEqual((Order.objects.counted().count(), Attempt.objects.get().way), (1, "card"))

    def test_it_is_not_offered_in_another_currency_or_where_it_is_not_allowed(self) -> None:
        elsewhere = MembershipFactory(business__ways={"*": ["card", "promise"]}).business
        pounds = make_link(line(), offer={"currency": "GBP"}, business=elsewhere)
        for link in (pounds, make_link(line(), business=make_business())):
            self.assertNotContains(self.client.get(link.path), 'name="way"')
