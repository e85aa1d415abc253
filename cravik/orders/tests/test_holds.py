"""What is scarce is held by the press, is the buyer's once it is paid, and is given back whatever else happens."""

from __future__ import annotations

from datetime import timedelta
from unittest import mock

import time_machine
from django.template import Context, Template
from django.test import TestCase, override_settings
from django.utils import timezone

from cravik.catalogue.models import Variant
from cravik.links.models import Link, LinkCode, LinkTally
from cravik.orders.models import Order
from cravik.orders.paying.reconcile import reconcile
from cravik.payments.counter.gateway import CounterGateway
from cravik.payments.gateway import Unreachable
from cravik.payments.holding import confirm_all, release_all
from cravik.payments.models import Attempt, Due, Hold, Movement
from cravik.payments.ways import present_ways
from tests.factories import make_business, make_item
from tests.links import line, make_link
from tests.paying import FALLS_SILENT, NEVER, NO_FUNDS, filled_in, give_back, open_page, paid_path, pay_live, send

CODE = {"codes": [{"code": "Wind", "kind": "percent", "percent": "50"}]}


class HoldsTest(TestCase):
    def setUp(self) -> None:
        self.business = make_business()
        self.item = make_item(self.business, "Sled kite", code="SLED")
        Variant.objects.update(count=10)
        self.link = make_link(
            line(quantity={"default": 2, "min": 1, "max": 5}),
            business=self.business,
            items={"kite": "SLED"},
            offer=CODE,
            limits={"orders": 3},
            code_rules={"WIND": {"uses": 2, "uses_per_buyer": 1}},
        )

    def pay(self, link: Link | None = None, **changes: str) -> int:
        seen = {"code": "wind", "seen_total": "24.00", "seen_now": "24.00"}
        return pay_live(self.client, link or self.link, **seen | changes).status_code

    def counts(self) -> tuple[int | None, int, int, int, int]:
        """What is in stock; orders and uses of the code that are paid, and that are held."""
        tally, code = LinkTally.objects.get(link=self.link), LinkCode.objects.get(link=self.link)
        return Variant.objects.get().count, tally.paid, tally.held, code.paid, code.held

    def test_what_is_paid_is_the_buyers(self) -> None:
        self.assertEqual((self.pay(), self.counts()), (303, (8, 1, 0, 1, 0)))
        self.assertEqual(
            [(hold.kind, hold.state, hold.quantity) for hold in Hold.objects.all()],
            [("order", "confirmed", 1), ("code_use", "confirmed", 1), ("stock", "confirmed", 2)],
        )
        self.assertEqual(Order.objects.get().code, LinkCode.objects.get())

    def test_a_decline_gives_it_all_back_at_once(self) -> None:
        self.assertEqual((self.pay(card_number=NO_FUNDS), self.counts()), (200, (10, 0, 0, 0, 0)))
        self.assertEqual(set(Hold.objects.values_list("state", flat=True)), {"released"})

    def test_it_is_held_until_somebody_can_say_what_became_of_the_payment(self) -> None:
        self.pay(card_number=FALLS_SILENT)
        self.assertEqual(self.counts(), (8, 0, 1, 0, 1))
        later = timezone.now() + timedelta(minutes=20)
        with mock.patch.object(CounterGateway, "look_up", side_effect=Unreachable):
            reconcile(present_ways(), later, lambda: later)
        self.assertEqual(self.counts(), (8, 0, 1, 0, 1), "its buyer may still be charged")
        reconcile(present_ways(), later, lambda: later)
        self.assertEqual((self.counts(), Order.objects.count()), ((8, 1, 0, 1, 0), 1))

    def test_what_never_reached_the_gateway_is_given_back_by_the_reconciler(self) -> None:
        with mock.patch.object(CounterGateway, "charge", side_effect=SystemExit), self.assertRaises(SystemExit):
            self.pay()
        self.assertEqual(self.counts(), (8, 0, 1, 0, 1))
        reconcile(present_ways(), timezone.now(), timezone.now)
        self.assertEqual((self.counts(), Attempt.objects.get().state), ((10, 0, 0, 0, 0), "void"))

    def test_a_hold_that_nobody_pays_for_lapses(self) -> None:
        self.pay(card_number=FALLS_SILENT)
        Attempt.objects.update(state="void", answered_at=timezone.now())  # its end was written, and nothing else
        reconcile(present_ways(), timezone.now(), timezone.now)
        self.assertEqual(self.counts(), (8, 0, 1, 0, 1))
        reconcile(present_ways(), timezone.now(), lambda: timezone.now() + timedelta(minutes=16))
        self.assertEqual(self.counts(), (10, 0, 0, 0, 0))

    @override_settings(
        CRAVIK_PRICE_PROMISED_MINUTES=10, CRAVIK_HELD_WHILE_PAYING_MINUTES=20, CRAVIK_CALLED_OFF_MINUTES=60
    )
    def test_what_is_promised_held_and_waited_for_each_last_as_long_as_is_set_and_pages_say_so(self) -> None:
        with time_machine.travel(timezone.now(), tick=False):
            self.pay(card_number=NEVER)
            now = timezone.now()
        self.assertEqual({hold.until - now for hold in Hold.objects.all()}, {timedelta(minutes=20)})
        self.assertEqual(reconcile(present_ways(), now, lambda: now + timedelta(minutes=59)), 0)
        self.assertEqual(reconcile(present_ways(), now, lambda: now + timedelta(minutes=61)), 1)
        says = "{% load cravik %}{% lasting 'price_promised' %}, {% lasting 'called_off_after' %}"
        self.assertEqual(Template(says).render(Context()), "10 minutes, 1 hour")

    def test_nothing_is_kept_or_given_back_twice(self) -> None:
        self.pay(card_number=FALLS_SILENT)
        checkout = Hold.objects.first().checkout_id
        self.assertEqual([release_all(checkout), release_all(checkout)], [3, 0])
        confirm_all(checkout, timezone.now())
        self.assertEqual(self.counts(), (10, 0, 0, 0, 0))

    def test_where_one_thing_is_gone_nothing_of_the_rest_is_held(self) -> None:
        Variant.objects.update(count=1)
        self.assertEqual((self.pay(), self.counts()), (409, (1, 0, 0, 0, 0)))
        self.assertFalse(Hold.objects.exists())

    def test_the_code_counts_over_all_versions_and_buyers_and_says_when_it_is_used_up(self) -> None:
        self.assertEqual(self.pay(email="a@dunes.example"), 303)
        again = pay_live(
            self.client,
            self.link,
            email="A@dunes.example",
            second="yes",
            code="WIND",
            seen_total="24.00",
            seen_now="24.00",
        )
        self.assertContains(again, "as often as one buyer may", status_code=409)
        self.assertContains(again, "Pay €48.00", status_code=409)
        self.assertEqual(self.pay(email="b@dunes.example"), 303)
        form = open_page(self.client, self.link) | {"email": "c@dunes.example"}
        used_up = send(self.client, self.link, form | {"code": "wind", "seen_total": "24.00", "seen_now": "24.00"})
        self.assertContains(used_up, "used for the last time a moment ago", status_code=409)
        paid = send(self.client, self.link, filled_in(used_up, email="c@dunes.example"))
        self.assertEqual((paid.status_code, Order.objects.latest("id").paid.major), (303, "48.00"))
        self.assertEqual(self.counts(), (4, 3, 0, 2, 0))

    def test_another_card_after_a_decline_takes_it_anew(self) -> None:
        form = open_page(self.client, self.link) | {"code": "wind", "seen_total": "24.00", "seen_now": "24.00"}
        declined = send(self.client, self.link, form | {"card_number": NO_FUNDS})
        again = filled_in(declined) | {"code": "wind"}
        self.assertEqual(send(self.client, self.link, again).status_code, 303)
        self.assertEqual(self.counts(), (8, 1, 0, 1, 0))


class DuesTest(TestCase):
    def test_nothing_due_needs_no_card_and_moves_no_money(self) -> None:
        link = make_link(line(amount="0"))
        form = open_page(self.client, link)
        for name in ("card_number", "expiry", "security_code"):
            del form[name]
        page = self.client.get(link.path)
        self.assertContains(page, "You pay nothing")
        self.assertContains(page, "data-when-due hidden disabled")
        answer = send(self.client, link, form)
        self.assertEqual(answer.status_code, 303)
        order = Order.objects.get()
        self.assertEqual((order.paid.minor, order.attempt, order.checkout.dues.get().state), (0, None, Due.State.PAID))
        self.assertEqual((Attempt.objects.count(), Movement.objects.count()), (0, 0))
        self.assertContains(self.client.get(answer["Location"]), "There was nothing to pay")
        self.assertEqual(paid_path(send(self.client, link, form)), paid_path(answer))
        self.assertEqual((Order.objects.count(), LinkTally.objects.get().paid), (1, 1))
        again = send(self.client, link, open_page(self.client, link))
        self.assertContains(again, "You paid for this a moment ago", status_code=409)

    def test_a_charge_moves_exactly_its_due_and_every_list_says_its_sum(self) -> None:
        link = make_link(line(amount="24.00"))
        pay_live(self.client, link)
        movement = Movement.objects.get()
        self.assertEqual((movement.kind, movement.amount), ("charge", movement.checkout.dues.get().amount))
        give_back(Order.objects.get(), "4.00")
        order = Order.objects.get()
        self.assertEqual(order.paid.major, "20.00")
        self.assertEqual(Order.objects.get().paid.major, "20.00")
