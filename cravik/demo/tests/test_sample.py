from __future__ import annotations

from django.core.management import CommandError, call_command
from django.db.models import Sum
from django.test import TestCase
from django.utils import timezone

from cravik.core.pricing.basket import BasketLine
from cravik.core.statistics.ladder import Rung
from cravik.demo import catalogue
from cravik.demo.kinds import as_far_as_left
from cravik.demo.sample import load_sample
from cravik.journal.models import Visit
from cravik.links.models import LinePieces, Link
from cravik.orders.models import Order
from cravik.payments.counter.gateway import total_taken
from cravik.payments.models import Movement


class SampleTest(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.business = load_sample(timezone.now())

    def test_there_are_links_in_every_state_and_a_year_of_orders(self) -> None:
        self.assertEqual(set(Link.objects.values_list("state", flat=True)), set(Link.State.values))
        self.assertGreaterEqual(Link.objects.count(), 12)
        days = Order.objects.dates("paid_at", "day")
        self.assertGreater((max(days) - min(days)).days, 350)

    def test_orders_visits_and_the_counters_books_agree(self) -> None:
        self.assertEqual(Order.objects.count(), Visit.objects.filter(rung=Rung.PAID).count())
        taken = {money.currency: money.minor for money in total_taken(f"business-{self.business.pk}")}
        earned = dict(Movement.objects.order_by().values_list("currency").annotate(Sum("amount_minor")))
        self.assertEqual(taken, earned)

    def test_nobody_buys_more_than_there_was(self) -> None:
        taken = (BasketLine("place", 3), BasketLine("lunch", 2))
        self.assertEqual(as_far_as_left(taken, {"place": 2}), (BasketLine("place", 2), BasketLine("lunch", 2)))
        self.assertEqual(as_far_as_left(taken, {"place": 0}), ())
        paid = dict(LinePieces.objects.exclude(most=None).values_list("line", "paid"))
        self.assertEqual(set(paid), {"place", "print", "adult", "child"})
        self.assertGreater(min(paid.values()), 0)

    def test_numbers_follow_one_another_in_time(self) -> None:
        numbers = list(Order.objects.order_by("paid_at", "id").values_list("number", flat=True))
        self.assertEqual(numbers, list(range(1001, 1001 + len(numbers))))

    def test_it_can_be_signed_in_to_and_shows_every_view(self) -> None:
        self.assertTrue(self.client.login(username=catalogue.SELLER_EMAIL, password=catalogue.SELLER_PASSWORD))
        for address in ("/", "/orders/", "/mailroom/", "/setup/", "/links/1/", "/links/1/hand-out/"):
            self.assertEqual(self.client.get(address).status_code, 200)

    def test_it_is_loaded_once(self) -> None:
        call_command("load_demo", once=True)
        with self.assertRaisesMessage(CommandError, "loaded already"):
            call_command("load_demo")
