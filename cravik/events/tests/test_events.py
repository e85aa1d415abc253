"""What happened is written with the act, read by whom it concerns, and walked from any point once."""

from __future__ import annotations

from unittest import mock

from django.db import transaction
from django.test import TestCase

from cravik.events import reading
from cravik.events.kinds import read_data
from cravik.events.models import Event
from cravik.events.reading import events_after, events_of_link, events_of_order
from cravik.links.life import lifecycle
from cravik.links.models import Link
from cravik.links.places import addresses
from cravik.links.places.spots import describe_spot, end_spot, make_spot, make_spots, move_spot, reopen_spot
from cravik.orders.models import Order
from cravik.people.actors import member
from cravik.setup.defaults import decide
from tests.factories import BY, NOW, MembershipFactory, make_draft, make_live
from tests.paying import NO_FUNDS, pay_live


class EventsTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.by = member(self.member.user)
        self.link = make_live(self.member.business)

    def told(self, link: Link) -> list[str]:
        return [each.words for each in reversed(events_of_link(link.pk))]

    def test_a_links_life_is_told_with_who_did_it(self) -> None:
        lifecycle.pause(self.link, NOW, by=self.by)
        lifecycle.pause(self.link, NOW, by=self.by)  # pressed twice
        lifecycle.resume(self.link, NOW, by=self.by)
        addresses.rename(self.link, "Mending", NOW, by=self.by)
        addresses.rename(self.link, "Mending", NOW, by=self.by)
        addresses.change_address(self.link, "mending", NOW, by=self.by)
        lifecycle.end(self.link, NOW, by=self.by)
        self.assertEqual(
            self.told(self.link),
            [
                *("Made", "Published as version 1", "Paused", "Resumed"),
                *("Renamed from “Kite repair” to “Mending”", "Address changed to /for/mending/", "Ended"),
            ],
        )
        last = events_of_link(self.link.pk)[0]
        self.assertEqual((last.who, last.by), (self.member.user.name or self.member.user.email, "member"))

    def test_a_spots_life_is_told_at_both_links_of_a_move(self) -> None:
        other = make_draft(self.member.business, "Tails")
        spot = make_spot(self.link, "Stall", NOW, by=self.by)
        make_spots(self.link, ["Stall", "Door"], NOW, by=self.by)
        describe_spot(spot, "Stand", "", NOW, by=self.by)
        describe_spot(spot, "Stand", "by the pier", NOW, by=self.by)
        for _ in range(2):
            end_spot(spot, "", NOW, by=self.by)
        for _ in range(2):
            reopen_spot(spot, NOW, by=self.by)
        move_spot(spot, other, NOW, by=self.by)
        of_spots = [words for words in self.told(self.link) if "pot" in words]
        expected = [
            *("Spot made: Stall", "Spot made: Door", "Spot renamed from “Stall” to “Stand”"),
            *("Spot ended: Stand", "Spot opened again: Stand", "Spot moved away: Stand, to “Tails”"),
        ]
        self.assertEqual(of_spots, expected)
        self.assertEqual(self.told(other)[-1], "Spot moved here: Stand, from “Kite repair”")

    def test_an_order_is_told_once_and_stands_on_its_page_and_not_in_its_links_history(self) -> None:
        pay_live(self.client, self.link, card_number=NO_FUNDS)
        self.assertFalse(Event.objects.exclude(order_id=None).exists(), "a decline makes no order")
        pay_live(self.client, self.link)
        order = Order.objects.get()
        happened = events_of_order(order.pk)
        told = [(each.words, each.by) for each in happened]
        self.assertEqual(told[:2], [("Ordered", "buyer"), ("€24.00 paid", "buyer")])
        self.assertRegex(told[2][0], r"^Receipt R-\d{4}-0001 issued$")
        self.assertNotIn("Ordered", self.told(self.link))
        self.client.force_login(self.member.user)
        self.assertContains(self.client.get(order.path), "€24.00 paid")
        self.assertContains(self.client.get(f"/links/{self.link.pk}/versions/"), "Published as version 1")

    def test_what_comes_to_nothing_is_not_told(self) -> None:
        before = Event.objects.count()
        with self.assertRaises(RuntimeError), transaction.atomic():
            lifecycle.pause(self.link, NOW, by=self.by)
            raise RuntimeError
        self.assertEqual(Event.objects.count(), before)

    def test_settings_are_told_when_they_change_and_not_when_they_are_saved_as_they_were(self) -> None:
        terms = {"currency": "EUR", "fee": {"percent": "2", "fixed": "0.25"}}
        for seen in (0, 1):
            decide(self.member.business, "fee", terms, seen, NOW, by=BY)
        decide(self.member.business, "fee", terms | {"fee": {"percent": "3", "fixed": "0.25"}}, 1, NOW, by=BY)
        words = [each.words for each in events_after(0) if each.setting == "fee"]
        self.assertEqual(words, ["The processor's fee decided", "The processor's fee changed"])

    def test_all_are_walked_from_any_point_each_once_also_what_comes_meanwhile(self) -> None:
        with mock.patch.object(reading, "_AT_ONCE", 3):
            walk = events_after(0)
            seen = [next(walk).position for _ in range(2)]
            for _ in range(5):
                lifecycle.pause(self.link, NOW, by=BY)
                lifecycle.resume(self.link, NOW, by=BY)
            seen += [each.position for each in walk]
            everything = list(Event.objects.order_by("id").values_list("id", flat=True))
            self.assertEqual(seen, everything)
            self.assertEqual([each.position for each in events_after(seen[4])], everything[5:])
            self.assertEqual(list(events_after(seen[-1])), [])
        others = MembershipFactory().business
        self.assertEqual(list(events_after(0, others.pk)), [])

    def test_a_kind_that_this_version_does_not_know_is_passed_over(self) -> None:
        Event.objects.filter(kind="link.published").update(kind="link.of_tomorrow")
        self.assertEqual(self.told(self.link), ["Made"])
        self.assertIsNone(read_data("link.of_tomorrow", {"anything": 1}))
