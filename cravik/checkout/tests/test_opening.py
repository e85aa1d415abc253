"""The one door: addresses and spots, and what is open at an instant."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, get_args

import time_machine
from django.core import signing
from django.template.loader import get_template
from django.test import TestCase
from django.utils import timezone

from cravik.checkout.opening import Closed
from cravik.checkout.page_token import parse_token
from cravik.journal.models import Visit
from cravik.links.life import lifecycle
from cravik.links.life.from_setup import write_draft
from cravik.links.models import Link, LinkTally
from cravik.links.places.spots import ALPHABET, make_spot
from cravik.links.tasks import end_due_links
from cravik.orders.models import Order
from cravik.setup.defaults import defaults_of
from tests.factories import BROWSER, BY, NOW, change_price, make_draft, make_live
from tests.links import line, make_link
from tests.paying import filled_in, open_page, pay_live, send


class SpotTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live()
        self.spot = make_spot(self.link, "Stall sign", NOW, by=BY)

    def test_a_code_is_short_readable_and_answers_in_either_case_with_the_page_itself(self) -> None:
        codes = {make_spot(self.link, f"Spot {number}", NOW, by=BY).code for number in range(200)}
        self.assertEqual(len(codes), 200)
        self.assertTrue(all(len(code) <= 7 and set(code) <= set(ALPHABET) for code in codes))
        self.assertFalse(set("0O1IL2Z5S8B6GUVD") & set(ALPHABET) - {"V"})
        for code in (self.spot.code, self.spot.code.lower()):
            page = self.client.get(f"/k/{code}/", headers={"user-agent": BROWSER})
            self.assertContains(page, "Pay €24.00")
        self.assertEqual(self.client.get("/k/NOBODY7/").status_code, 404)
        self.assertEqual(self.client.get(f"/k/{'9' * 500}/").status_code, 404)

    def test_two_spots_seen_by_one_person_are_two_visits(self) -> None:
        for address in (self.spot.path, self.link.path, self.spot.path):
            self.client.get(address, headers={"user-agent": BROWSER})
        first = self.link.spots.get(is_first=True)
        self.assertEqual(set(Visit.objects.values_list("spot_id", flat=True)), {self.spot.pk, first.pk})
        self.assertEqual(Visit.objects.count(), 2)

    def test_an_order_knows_its_spot_everywhere(self) -> None:
        page = self.client.get(self.spot.path, headers={"user-agent": BROWSER})
        self.assertEqual(send(self.client, self.link, filled_in(page)).status_code, 303)
        order = Order.objects.get()
        movement = order.checkout.movements.get()
        spots = {order.spot_id, order.checkout.line.spot_id, movement.spot_id, Visit.objects.get().spot_id}
        self.assertEqual(spots, {self.spot.pk})

    def test_an_ended_link_says_so_at_its_spots(self) -> None:
        lifecycle.end(self.link, NOW, by=BY)
        self.assertContains(self.client.get(self.spot.path), "This has ended", status_code=410)
        draft = make_draft(purpose="Box kite")
        self.assertEqual(self.client.get(draft.spots.get().path).status_code, 404)

    def test_a_page_that_was_opened_before_tokens_knew_spots_still_pays(self) -> None:
        form = open_page(self.client, self.link)
        token = parse_token(form["page"])
        old = {name: value for name, value in vars_of(token).items() if name != "spot_id"}
        form["page"] = signing.dumps(old, salt="cravik.checkout.page")
        self.assertEqual(send(self.client, self.link, form).status_code, 303)
        self.assertTrue(Order.objects.get().spot.is_first)


def vars_of(token: Any) -> dict[str, Any]:
    return {name: getattr(token, name) for name in token.__dataclass_fields__}


class WindowTest(TestCase):
    def link(self, **limits: Any) -> Link:
        return make_link(limits=limits)

    def test_before_it_opens_it_says_from_when_on_and_takes_nothing(self) -> None:
        link = self.link(opens_at=(timezone.now() + timedelta(hours=2)).isoformat())
        self.assertContains(self.client.get(link.path), "Not open yet")
        with time_machine.travel(timezone.now() + timedelta(hours=3), tick=False):
            form = open_page(self.client, link)
            self.assertEqual(send(self.client, link, form).status_code, 303)
        self.assertEqual(send(self.client, link, {"page": "x"}).status_code, 409)

    def test_each_way_of_being_closed_has_its_words(self) -> None:
        words = {why: get_template(f"checkout/closed/{why}.html") for why in get_args(Closed) if why != "draft"}
        seller = {"name": "Windlestraw Kites", "time_zone": "Europe/Dublin"}
        told = {why: each.render({"title": "Delta kite", "seller": seller}) for why, each in words.items()}
        self.assertEqual(len(set(told.values())), len(told))
        self.assertEqual([why for why, html in told.items() if "<strong>Delta kite</strong>" not in html], [])

    def test_who_opened_it_in_time_may_finish_for_as_long_as_the_price_is_promised(self) -> None:
        closes = timezone.now() + timedelta(minutes=5)
        link = self.link(closes_at=closes.isoformat())
        form, other = open_page(self.client, link), open_page(self.client, link)
        with time_machine.travel(closes + timedelta(minutes=1), tick=False):
            self.assertContains(self.client.get(link.path), "until a day that has passed", status_code=410)
            self.assertEqual(send(self.client, link, form).status_code, 303)
        with time_machine.travel(closes + timedelta(minutes=30), tick=False):
            late = send(self.client, link, other | {"email": "late@dunes.example"})
            self.assertContains(late, "until a day that has passed", status_code=410)
        self.assertEqual(Order.objects.count(), 1)

    def test_the_offers_own_window_holds_too(self) -> None:
        past = (timezone.now() - timedelta(days=1)).isoformat()
        link = make_link(offer={"window": {"closes_at": past}}, limits={"closes_at": "2999-01-01T00:00:00+00:00"})
        self.assertEqual(self.client.get(link.path).status_code, 410)

    def test_the_clock_writes_down_that_its_day_has_come_and_a_later_day_opens_it_again(self) -> None:
        link = self.link(closes_at=(timezone.now() - timedelta(minutes=1)).isoformat())
        end_due_links.call()
        end_due_links.call()
        link.refresh_from_db()
        self.assertEqual((link.state, link.ended_why), ("ended", "day"))
        with self.assertRaises(lifecycle.NotInThatState):
            lifecycle.resume(link, NOW, by=BY)
        later = {"closes_at": (timezone.now() + timedelta(days=9)).isoformat()}
        write_draft(link, link.draft | {"limits": later}, defaults_of(link.business), NOW)
        code = link.spots.get().path
        self.assertEqual(self.client.get(code).status_code, 410)
        self.assertEqual(lifecycle.publish(link, NOW, by=BY).state, "live")
        for path in (link.path, code):  # what is printed and pasted opens with it
            self.assertEqual(self.client.get(path).status_code, 200)

    def test_an_old_page_is_priced_as_of_now_and_a_changed_sum_is_shown_first(self) -> None:
        since = (timezone.now() - timedelta(seconds=2)).isoformat()
        step = {"line": "kite", "price": {"kind": "fixed", "amount": "30.00"}, "from": since}
        with time_machine.travel(timezone.now() - timedelta(minutes=10), tick=False):
            link = make_link(steps=[step])
            seen = open_page(self.client, link)
        with time_machine.travel(timezone.now() - timedelta(minutes=20), tick=False):
            old = open_page(self.client, link) | {"email": "old@dunes.example"}
        self.assertEqual((seen["seen_total"], old["seen_total"]), ("24.00", "24.00"))
        self.assertEqual(send(self.client, link, seen).status_code, 303)
        shown = send(self.client, link, old)
        self.assertContains(shown, "It comes to €30.00", status_code=409)
        again = filled_in(shown, email="old@dunes.example")
        self.assertEqual(send(self.client, link, again).status_code, 303)
        self.assertEqual([order.paid.major for order in Order.objects.order_by("id")], ["24.00", "30.00"])


class CountTest(TestCase):
    def test_the_last_order_ends_the_link_over_all_its_versions(self) -> None:
        link = make_link(limits={"orders": 2})
        late = open_page(self.client, link)
        self.assertEqual(pay_live(self.client, link, email="a@dunes.example").status_code, 303)
        lifecycle.publish(change_price(link, 3000), NOW, by=BY)
        self.assertEqual(pay_live(self.client, link, email="b@dunes.example").status_code, 303)
        link.refresh_from_db()
        self.assertEqual((link.state, link.ended_why), ("ended", "count"))
        self.assertContains(self.client.get(link.path), "every one of them is taken", status_code=410)
        gone = send(self.client, link, late | {"email": "c@dunes.example"})
        self.assertContains(gone, "The last one was taken a moment ago", status_code=409)
        self.assertEqual(Order.objects.count(), 2)

    def test_places_that_are_being_paid_are_taken(self) -> None:
        link = make_link(limits={"orders": 1})
        LinkTally.objects.filter(link=link).update(held=1)
        self.assertContains(self.client.get(link.path), "Just taken")

    def test_one_buyer_may_have_so_many_whatever_the_case_of_the_address(self) -> None:
        link = make_link(limits={"orders_per_buyer": 1})
        self.assertEqual(pay_live(self.client, link, email="maren@dunes.example").status_code, 303)
        more = pay_live(self.client, link, email="MAREN@dunes.example", second="yes")
        self.assertContains(more, "as many of these as one buyer may have", status_code=409)
        self.assertEqual(pay_live(self.client, link, email="b@dunes.example").status_code, 303)

    def test_a_step_by_count_shows_the_new_price_first(self) -> None:
        dearer = {"line": "kite", "price": {"kind": "fixed", "amount": "30.00"}, "after_orders": 1}
        link = make_link(steps=[dearer])
        late = open_page(self.client, link) | {"email": "late@dunes.example"}
        self.assertEqual(pay_live(self.client, link).status_code, 303)
        shown = send(self.client, link, late)
        self.assertContains(shown, "€30.00", status_code=409)
        self.assertEqual(Order.objects.count(), 1)
        again = send(self.client, link, filled_in(shown, email="late@dunes.example"))
        self.assertEqual((again.status_code, Order.objects.latest("id").paid.major), (303, "30.00"))

    def test_rehearsals_never_count(self) -> None:
        link = make_link(line(), limits={"orders": 1})
        self.assertEqual((link.tally.paid, link.tally.held), (0, 0))
