"""Spots: made, moved, ended, and what their codes lead to."""

from __future__ import annotations

from django.test import TestCase

from cravik.journal.campaigns import parameters_of
from cravik.journal.models import Visit
from cravik.links.models import Spot, SpotMove
from cravik.links.places import spots as services
from cravik.orders.models import Order
from cravik.setup.saving import NameTaken
from tests.factories import BROWSER, BY, NOW, MembershipFactory, make_business, make_live
from tests.paying import filled_in, send


class SpotTest(TestCase):
    def setUp(self) -> None:
        self.business = make_business()
        self.link = make_live(self.business)
        self.other = make_live(self.business, "Tail ribbon", 300)
        self.stall = services.make_spot(self.link, "Stall sign", NOW, by=BY)

    def test_a_name_stands_for_one_spot_of_a_link(self) -> None:
        with self.assertRaises(NameTaken) as taken:
            services.make_spot(self.link, "Stall sign", NOW, by=BY)
        self.assertEqual(taken.exception.free, "Stall sign 2")
        made, there = services.make_spots(self.link, ["Newsletter", "Stall sign", "Newsletter"], NOW, by=BY)
        self.assertEqual(([spot.name for spot in made], there), (["Newsletter"], ["Stall sign"]))
        with self.assertRaises(NameTaken):
            services.describe_spot(made[0], "Stall sign", "", NOW, by=BY)

    def test_a_link_has_no_more_spots_than_it_can(self) -> None:
        names = [f"Door {number}" for number in range(services.MAX_SPOTS)]
        with self.assertRaises(services.TooManySpots):
            services.make_spots(self.link, names, NOW, by=BY)
        self.assertEqual(self.link.spots.count(), 2)

    def test_a_channel_has_one_spot_made_on_its_first_use(self) -> None:
        first = services.channel_spot(self.link, "email", "Stall sign", NOW, by=BY)
        self.assertEqual((first.name, first.channel), ("Stall sign 2", "email"))
        self.assertEqual(services.channel_spot(self.link, "email", "E-mail", NOW, by=BY), first)

    def test_a_moved_code_leads_to_the_new_link_and_what_it_brought_stays(self) -> None:
        moved = services.move_spot(self.stall, self.other, NOW, by=BY)
        self.assertEqual((moved.link, moved.code), (self.other, self.stall.code))
        self.assertContains(self.client.get(self.stall.path), "Tail ribbon")
        record = SpotMove.objects.get()
        self.assertEqual((record.left, record.joined), (self.link, self.other))
        services.move_spot(moved, self.link, NOW, by=BY)
        self.assertContains(self.client.get(self.stall.path), "Kite repair")

    def test_a_page_opened_before_a_move_is_paid_as_it_was_shown(self) -> None:
        agent = {"user-agent": BROWSER}
        page = self.client.get(f"{self.stall.path}?utm_source=newsletter", headers=agent)
        services.move_spot(self.stall, self.other, NOW, by=BY)
        self.assertEqual(send(self.client, self.link, filled_in(page)).status_code, 303)
        order = Order.objects.get()
        self.client.force_login(MembershipFactory(business=self.business).user)
        self.assertContains(self.client.get(order.path), "<dd>newsletter</dd>")
        self.assertEqual((order.link, order.spot), (self.link, self.stall))

    def test_the_first_spot_leaves_a_new_one_behind(self) -> None:
        first = services.first_spot(self.link)
        moved = services.move_spot(first, self.other, NOW, by=BY)
        self.assertEqual((moved.is_first, moved.name), (False, self.link.name))
        self.assertNotEqual(services.first_spot(self.link).code, first.code)
        self.assertContains(self.client.get(self.link.path), "Kite repair")
        self.assertContains(self.client.get(first.path), "Tail ribbon")

    def test_an_ended_spot_leads_to_the_link_with_its_query_or_to_a_chosen_page(self) -> None:
        services.end_spot(self.stall, "", NOW, by=BY)
        led = self.client.get(f"{self.stall.path}?utm_source=sign")
        self.assertRedirects(led, f"{self.link.path}?utm_source=sign")
        services.end_spot(self.stall, "https://windlestraw.example/stall", NOW, by=BY)
        led = self.client.get(self.stall.path)
        self.assertRedirects(led, "https://windlestraw.example/stall", fetch_redirect_response=False)
        services.reopen_spot(self.stall, NOW, by=BY)
        self.assertEqual(self.client.get(self.stall.path).status_code, 200)
        first = services.first_spot(self.link)
        services.end_spot(first, "", NOW, by=BY)
        self.assertIsNone(Spot.objects.get(id=first.pk).ended_at)

    def test_campaign_parameters_stay_with_the_visit_by_any_address(self) -> None:
        self.link.addresses.create(slug="former", current=False)
        for path in (self.stall.path, self.link.path, "/for/former/"):
            asked = f"{path}?utm_source=news&UTM_campaign=Spring+kites&quantity.x=2"
            self.client.get(asked, headers={"user-agent": f"{BROWSER} {path}"}, follow=True)
        campaigns = [visit.campaign for visit in Visit.objects.select_related("campaign")]
        self.assertEqual(len(set(campaigns)), 1)
        assert campaigns[0] is not None
        self.assertEqual(parameters_of(campaigns[0].query), {"utm_source": "news", "utm_campaign": "Spring kites"})
        self.client.get(f"{self.link.path}?utm_x={'%F0%9F%AA%81' * 300}&utm_=1", headers={"user-agent": f"{BROWSER} z"})
        kept = Visit.objects.latest("id").campaign
        assert kept is not None
        self.assertEqual(parameters_of(kept.query), {"utm_x": "🪁" * 80})
