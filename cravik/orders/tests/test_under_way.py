"""Nobody keeps others out without paying: few undecided payments at a time, and they give way."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import time_machine
from django.test import Client, TestCase, override_settings
from django.utils import timezone

from cravik.buyers.keys import buyer_key
from cravik.catalogue.models import Variant
from cravik.links.life.lifecycle import publish
from cravik.links.making.copies import make_link_of_item
from cravik.links.models import Link, LinkTally
from cravik.orders.models import Order
from cravik.payments.counter.models import CounterCard, CounterCharge
from cravik.payments.models import Attempt, Hold
from tests.factories import BY, NOW, make_business, make_item
from tests.links import line, make_link
from tests.paying import APPROVES, open_page, send

BANK_ASKS = "9000000000003013"
NEVER_ANSWERS = "9000000000003039"
WAITS = "A payment of yours for this still waits for its answer."
NETWORK = "Several payments from your network still wait for their answers."


class UnderWayTest(TestCase):
    def setUp(self) -> None:
        self.assertEqual(CounterCard.objects.get(conduct="never").number, NEVER_ANSWERS)
        self.business = make_business()
        self.link = make_link(business=self.business, limits={"orders": 3})

    def press(self, email: str, card: str = NEVER_ANSWERS, link: Link | None = None, host: int = 9) -> Any:
        client = Client(REMOTE_ADDR=f"203.0.113.{host}")
        link = link or self.link
        page = client.get(link.path)
        if "data-closed" in page.content.decode():
            return page
        form = open_page(client, link) | {"email": email, "card_number": card}
        return send(client, link, form)

    def held(self) -> int:
        return LinkTally.objects.get(link=self.link).held

    def test_one_buyer_has_one_undecided_payment_of_a_link(self) -> None:
        for card in (NEVER_ANSWERS, BANK_ASKS):
            with self.subTest(card):
                self.assertIn(self.press(f"{card}@dunes.example", card).status_code, (302, 303))
                held = self.held()
                for spelt in (f"{card}@dunes.example", f"{card}+2@Dunes.example", f'"{card}"@dunes.example'):
                    self.assertContains(self.press(spelt, card, host=8), WAITS, status_code=409)
                    self.assertContains(self.press(spelt, APPROVES, host=8), WAITS, status_code=409)
                self.assertEqual(self.held(), held)
        other = make_link(business=self.business)
        self.assertEqual(self.press(f"{NEVER_ANSWERS}@dunes.example", APPROVES, other).status_code, 303)

    def test_who_left_a_banks_question_for_another_page_pays_there_and_once(self) -> None:
        self.press("maren@dunes.example", BANK_ASKS)
        client = Client(REMOTE_ADDR="203.0.113.9")
        form = open_page(client, self.link) | {"second": "yes", "card_number": APPROVES}
        self.assertEqual(send(client, self.link, form).status_code, 303)
        self.assertEqual(sorted(Attempt.objects.values_list("state", flat=True)), ["approved", "void"])
        self.assertEqual((Order.objects.count(), self.held()), (1, 0))

    def test_one_network_has_so_many(self) -> None:
        wide = make_link(business=self.business)
        for number in range(6):
            self.assertEqual(self.press(f"b{number}@dunes.example", link=wide).status_code, 303)
        self.assertContains(self.press("b7@dunes.example", link=wide), NETWORK, status_code=409)
        self.assertContains(self.press("b7@dunes.example", APPROVES, wide), NETWORK, status_code=409)
        self.assertEqual(self.press("b8@dunes.example", link=wide, host=77).status_code, 303)
        with override_settings(CRAVIK_UNDECIDED_PER_NETWORK=40):
            self.assertEqual(self.press("b9@dunes.example", APPROVES, wide).status_code, 303)

    def test_those_that_were_decided_are_not_counted(self) -> None:
        wide = make_link(business=self.business)
        for number in range(12):
            self.assertEqual(self.press(f"b{number}@dunes.example", APPROVES, wide).status_code, 303)

    def test_who_waits_for_three_minutes_gives_way_to_whoever_opens_the_page(self) -> None:
        begun = timezone.now()
        for number in range(3):
            self.press(f"b{number}@dunes.example", host=number)
        self.assertContains(self.press("late@dunes.example", APPROVES), "Just taken")
        with time_machine.travel(begun + timedelta(minutes=2, seconds=50), tick=False):
            self.assertContains(self.press("late@dunes.example", APPROVES), "Just taken")
        with time_machine.travel(begun + timedelta(minutes=3, seconds=10), tick=False):
            self.assertEqual(self.press("late@dunes.example", APPROVES).status_code, 303)
        self.assertEqual(Order.objects.get().buyer_email, "late@dunes.example")
        self.assertEqual(
            set(Attempt.objects.exclude(state="approved").values_list("state", "reason")), {("void", "called_off")}
        )
        self.assertEqual(CounterCharge.objects.filter(outcome="approved").count(), 1, "nothing more can be charged")
        self.assertEqual((self.held(), Hold.objects.filter(state="held").count()), (0, 0))

    def test_so_do_pieces_and_codes(self) -> None:
        item = make_item(self.business, "Kite")
        Variant.objects.filter(item=item).update(count=1)
        last = publish(make_link_of_item(self.business, item, item.price, NOW, by=BY), NOW, by=BY)
        coded = make_link(
            line("kite"),
            business=self.business,
            offer={"codes": [{"code": "EARLY", "kind": "percent", "percent": "10"}]},
            code_rules={"EARLY": {"uses": 1}},
        )
        begun = timezone.now()
        self.press("first@dunes.example", link=last)
        self.assertContains(self.press("late@dunes.example", APPROVES, last, host=3), "Sold out")
        with time_machine.travel(begun + timedelta(minutes=4), tick=False):
            self.assertEqual(self.press("late@dunes.example", APPROVES, last, host=3).status_code, 303)
        client = Client()
        form = open_page(client, coded) | {"code": "EARLY", "card_number": NEVER_ANSWERS, "seen_total": "21.60"}
        late = open_page(client, coded) | {"code": "EARLY", "email": "late@dunes.example"}
        seen = {"seen_total": "21.60", "seen_now": "21.60"}
        begun = timezone.now()
        self.assertEqual(send(client, coded, form | seen).status_code, 303)
        self.assertContains(send(client, coded, late | seen), "used for the last time", status_code=409)
        with time_machine.travel(begun + timedelta(minutes=4), tick=False):
            self.assertEqual(send(client, coded, late | seen).status_code, 303)

    def test_the_commonest_spellings_are_one_buyer(self) -> None:
        one = "maren@dunes.example"
        for spelt in (
            "Maren@Dunes.example",
            "maren+kites@dunes.example",
            '"maren"@dunes.example',
            '"maren+x"@dunes.example',
        ):
            self.assertEqual(buyer_key(spelt), one, spelt)
        for other in (
            "m.aren@dunes.example",
            "maren@dunes2.example",
            "+maren@dunes.example",
            '"+"@dunes.example',
            '""@x.example',
        ):
            self.assertNotEqual(buyer_key(other), one, other)
        link = make_link(business=self.business, limits={"orders_per_buyer": 1})
        self.assertEqual(self.press(one, APPROVES, link).status_code, 303)
        self.assertContains(
            self.press("Maren+2@dunes.example", APPROVES, link, host=4),
            "as many of these as one buyer",
            status_code=409,
        )
