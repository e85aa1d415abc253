from __future__ import annotations

import json
import random
from datetime import datetime, timedelta
from pathlib import Path
from unittest import mock

import crawleruseragents
import time_machine
from django.db import OperationalError
from django.http import HttpResponse
from django.test import RequestFactory, TestCase
from django.utils import timezone

from cravik.core.statistics.ladder import Ladder, Rung
from cravik.journal.facets import OF_LINK, counted, counted_at_once
from cravik.journal.models import DaySalt, Facet, LeftOut, NetworkMinute, Visit
from cravik.journal.queries import ladders_by_link, left_out
from cravik.journal.services import MAX_NEW_VISITS, SAME_VISIT, VisitedPage, climb, forget_networks, open_visit
from cravik.journal.visitors import Visitor, _salt_of, device_of, referrer_of, visitor_mark, why_left_out
from cravik.orders.models import Order
from cravik.setup.periods import Period
from cravik.upkeep.networks import network_of
from tests.factories import BROWSER, NOW, MembershipFactory, make_live
from tests.paying import filled_in, open_page, send

HERE = VisitedPage(business_id=1, link_id=7, spot_id=70)


def opened(mark: str, now: datetime, met: VisitedPage = HERE) -> int | None:
    return open_visit(met, Visitor(mark), now).visit_id


class VisitTest(TestCase):
    def test_a_reload_belongs_to_the_visit_under_way(self) -> None:
        first = opened("a", NOW)
        self.assertEqual(opened("a", NOW + SAME_VISIT - timedelta(seconds=1)), first)
        late = NOW + 2 * SAME_VISIT - timedelta(seconds=2)
        self.assertEqual(opened("a", late), first)  # half an hour without a sign of life, not half an hour in all
        self.assertNotEqual(opened("a", late + SAME_VISIT + timedelta(seconds=1)), first)
        self.assertNotEqual(opened("a", NOW, HERE._replace(spot_id=71)), first)
        self.assertNotEqual(opened("b", NOW), first)

    def test_a_visit_climbs_and_never_falls(self) -> None:
        visit = opened("a", NOW)
        for rung in (Rung.TRIED, Rung.STARTED, Rung.OPENED):
            climb(visit, 7, rung, NOW + timedelta(minutes=rung))
        stored = Visit.objects.get()
        self.assertEqual(
            (stored.rung, stored.started_at, stored.paid_at), (Rung.TRIED, NOW + timedelta(minutes=3), None)
        )

    def test_a_paid_visit_is_closed_and_a_second_payment_is_one_of_its_own(self) -> None:
        visit = opened("a", NOW)
        climb(visit, 7, Rung.PAID, NOW)
        climb(visit, 7, Rung.TRIED, NOW)
        self.assertNotEqual(opened("a", NOW), visit)
        climb(visit, 7, Rung.PAID, NOW)
        self.assertEqual(Visit.objects.filter(rung=Rung.PAID).count(), 2)

    def test_all_facets_at_once_are_counted_as_each_is_by_itself(self) -> None:
        chance = random.Random(7)
        for number in range(300):
            rung, paid_after = chance.choice(list(Rung)), chance.choice([0, 30, 31, 86_400, 86_401])
            Visit.objects.create(
                **HERE._replace(link_id=chance.choice([7, 8]), version_id=chance.choice([None, 5]))._asdict(),
                visitor=str(number),
                referrer=chance.choice(["", "dunes.example"]),
                device=chance.choice(Visit.Device.values),
                code_id=chance.choice([None, 3]),
                rung=rung,
                opened_at=NOW,
                last_at=NOW,
                paid_at=NOW + timedelta(seconds=paid_after) if rung == Rung.PAID else None,
            )
        day = (1, NOW, NOW + timedelta(minutes=1))
        each = [
            (link, facet, *row)
            for facet in OF_LINK
            if facet != Facet.LEFT_OUT
            for link, *row in counted(facet, *day, "link_id")
        ]
        self.assertCountEqual(counted_at_once(*day), each)

    def test_a_visit_of_another_link_is_left_alone(self) -> None:
        visit = opened("a", NOW)
        self.assertFalse(climb(visit, 8, Rung.PAID, NOW))
        self.assertFalse(climb(10**6, 7, Rung.PAID, NOW))
        self.assertEqual(Visit.objects.get().rung, Rung.OPENED)

    def test_ladders_are_of_one_business_and_one_period(self) -> None:
        for place, rung in enumerate([Rung.OPENED, Rung.STARTED, Rung.PAID]):
            climb(opened(f"v{place}", NOW), 7, rung, NOW)
        opened("w", NOW, VisitedPage(2, 9, 90))
        opened("old", NOW - timedelta(days=40))
        found = ladders_by_link(1, Period(NOW.date() - timedelta(days=30), NOW.date(), "UTC"))
        self.assertEqual(found, {7: Ladder(3, 2, 1, 1)})


class UnwrittenVisitTest(TestCase):
    """A page is shown although its visit cannot be written."""

    def test_the_page_is_shown_without_one_and_can_be_paid(self) -> None:
        link = make_live(MembershipFactory().business)
        with (
            mock.patch("cravik.journal.services.open_visit", side_effect=OperationalError("disk full")),
            self.assertLogs("cravik.journal", "WARNING"),
        ):
            form = open_page(self.client, link)
        self.assertEqual(send(self.client, link, form).status_code, 303)
        self.assertEqual((Visit.objects.get().rung, Order.objects.count()), (Rung.PAID, 1))


class VisitorTest(TestCase):
    def setUp(self) -> None:
        _salt_of.cache_clear()
        self.addCleanup(_salt_of.cache_clear)

    def request(self, browser: str = BROWSER, method: str = "GET", **more: str) -> object:
        return RequestFactory().generic(method, "/", headers={"user-agent": browser}, **more)

    def test_messengers_that_make_a_card_are_previews_and_their_people_are_people(self) -> None:
        listed = json.loads(
            Path(crawleruseragents.__file__).with_name("crawler-user-agents.json").read_text(encoding="utf-8")
        )
        cards, others = (
            [
                why_left_out(self.request(name))
                for each in listed
                if ("social-preview" in each["tags"]) is is_card
                for name in each["instances"]
            ]
            for is_card in (True, False)
        )
        self.assertGreater(cards.count("preview"), 100)
        self.assertNotIn("robot", cards)
        self.assertGreater(others.count("robot"), 20 * others.count("preview"))
        for name in (f"{BROWSER} [in an app of a messenger]", "Mozilla/5.0 (iPhone; CPU iPhone OS 18_1) Chat/9"):
            self.assertIsNone(why_left_out(self.request(name)))

    def test_robots_previews_and_fetching_ahead_are_not_people(self) -> None:
        for browser, why in (
            ("", "robot"),
            ("curl/8.5.0", "robot"),
            ("python-requests/2.32", "robot"),
            ("Mozilla/5.0 (compatible; SomeBot/2.1; +http://bot.example)", "robot"),
            ("SomeLinkPreviewBot/1.0 (+http://bot.example)", "preview"),
            (BROWSER, None),
        ):
            with self.subTest(browser):
                self.assertEqual(why_left_out(self.request(browser)), why)
        self.assertEqual(why_left_out(self.request(method="HEAD")), "robot")
        self.assertEqual(why_left_out(self.request(HTTP_SEC_PURPOSE="prefetch;prerender")), "ahead")
        self.assertEqual(why_left_out(self.request(HTTP_X_PURPOSE="preview")), "preview")

    def test_how_they_came_is_kept_as_a_host_and_a_kind_of_device(self) -> None:
        for referer, host in (
            ("https://www.kites.example/page?secret=1#x", "kites.example"),
            ("http://testserver/for/x/", ""),
            ("http://localhost:8000/for/x/", ""),
            ("http://[x", ""),
            ("", ""),
            ("javascript:alert(1)", ""),
            (f"https://{'a' * 120}.example/", ""),
        ):
            self.assertEqual(referrer_of(self.request(HTTP_REFERER=referer)), host, referer)
        phone = "Mozilla/5.0 (Linux; Android 14) AppleWebKit/537.36 Mobile Safari/537.36"
        tablet = phone.replace("Mobile ", "")
        self.assertEqual(
            [device_of(self.request(name)) for name in (phone, tablet, BROWSER)], ["phone", "tablet", "desk"]
        )
        self.assertEqual(device_of(self.request(HTTP_SEC_CH_UA_MOBILE="?1")), "phone")

    def test_who_asks_not_to_be_told_apart_is_counted_without_a_hash(self) -> None:
        link = make_live(MembershipFactory().business)
        for header in ("sec-gpc", "dnt"):
            for _ in range(2):
                page = self.client.get(link.path, headers={"user-agent": BROWSER, header: "1"})
        self.assertEqual(list(Visit.objects.values_list("visitor", flat=True)), [""] * 4)
        send(self.client, link, filled_in(page), **{"user-agent": BROWSER, "dnt": "1"})
        self.assertEqual(Visit.objects.filter(rung=Rung.PAID).count(), 1)

    def test_a_mark_lasts_for_a_day_and_names_nobody(self) -> None:
        today, tomorrow = NOW.date(), NOW.date() + timedelta(days=1)
        mark = visitor_mark(self.request(), today)
        self.assertEqual(visitor_mark(self.request(), today), mark)
        self.assertNotEqual(visitor_mark(self.request(), tomorrow), mark)
        self.assertNotEqual(visitor_mark(self.request(REMOTE_ADDR="10.0.0.9"), today), mark)
        self.assertRegex(mark, r"^[0-9a-f]{32}$")

    def test_old_salts_are_thrown_away(self) -> None:
        for days in range(4):
            visitor_mark(self.request(), NOW.date() + timedelta(days=days))
        self.assertEqual(DaySalt.objects.count(), 2)


class LeftOutTest(TestCase):
    def test_what_is_no_visit_is_counted_by_its_reason_and_whoever_pays_was_a_person(self) -> None:
        member = MembershipFactory()
        link = make_live(member.business)

        def counted() -> dict[str, int]:
            day = timedelta(days=1)
            today = timezone.now().date()
            return left_out(link.business_id, Period(today - day, today + day, "UTC"), [link.pk])

        robot = {"user-agent": "SomeBot/2.1 (+http://bot.example)"}
        page = self.client.get(link.path, headers=robot)
        self.client.get(link.path, headers=robot)
        self.client.get(link.path, headers={"user-agent": BROWSER, "sec-purpose": "prefetch"})
        self.client.force_login(member.user)
        self.client.get(link.path, headers={"user-agent": BROWSER})
        self.client.get(f"/for/rehearsal/{link.pk}/")
        self.client.get(f"/for/rehearsal/{link.pk}/", headers={"sec-fetch-dest": "iframe"})
        self.assertEqual(counted(), {"ahead": 1, "own": 1, "rehearse": 1, "robot": 2})
        self.assertFalse(Visit.objects.exists())
        self.client.logout()
        declined = filled_in(page, card_number="9000000000001017")
        send(self.client, link, declined, **robot)
        self.assertEqual((counted()["robot"], Visit.objects.count()), (2, 0))
        self.assertEqual(
            send(self.client, link, filled_in(self.client.get(link.path, headers=robot)), **robot).status_code, 303
        )
        self.assertEqual((counted()["robot"], Visit.objects.get().rung), (2, Rung.PAID))
        self.assertEqual(Order.objects.get().checkout.visit_id, Visit.objects.get().pk)


class CrowdTest(TestCase):
    """More new visits from one network in a minute than people make are left out, and counted as that."""

    def setUp(self) -> None:
        self.link = make_live(MembershipFactory().business)

    def come(self, number: int, address: str = "203.0.113.9") -> HttpResponse:
        return self.client.get(self.link.path, headers={"user-agent": f"{BROWSER} {number}"}, REMOTE_ADDR=address)

    def test_a_network_has_so_many_a_minute_and_whoever_pays_was_a_person(self) -> None:
        with time_machine.travel(NOW, tick=False):
            for number in range(MAX_NEW_VISITS + 3):
                page = self.come(number)
            self.assertEqual(Visit.objects.count(), MAX_NEW_VISITS)
            self.come(1)  # a reload of one that is counted
            self.come(0, "203.0.113.10")
            self.assertEqual(Visit.objects.count(), MAX_NEW_VISITS + 1)
            day = timedelta(days=1)
            period = (self.link.business_id, Period((NOW - day).date(), (NOW + day).date(), "UTC"), [self.link.pk])
            self.assertEqual(left_out(*period), {"crowd": 3})
            self.assertEqual(send(self.client, self.link, filled_in(page)).status_code, 303)
            self.assertEqual(left_out(*period), {"crowd": 2})
            self.assertEqual(Visit.objects.filter(rung=Rung.PAID).count(), 1)
        with time_machine.travel(NOW + timedelta(minutes=1), tick=False):
            self.come(10**6)
            self.assertEqual(Visit.objects.filter(rung=Rung.OPENED).count(), MAX_NEW_VISITS + 2)

    def test_the_counts_of_networks_are_gone_soon_and_hold_no_address(self) -> None:
        with time_machine.travel(NOW, tick=False):
            self.come(1)
            self.assertNotIn("203.0.113.9", str(NetworkMinute.objects.values_list()))
            forget_networks(NOW + timedelta(minutes=1))
        self.assertFalse(NetworkMinute.objects.exists())
        self.assertFalse(LeftOut.objects.exists())

    def test_one_household_has_half_of_an_address_of_the_new_kind(self) -> None:
        self.assertEqual(network_of("2001:db8:1:2:3:4:5:6"), network_of("2001:db8:1:2::9"))
        self.assertNotEqual(network_of("2001:db8:1:2::9"), network_of("2001:db8:1:3::9"))
        self.assertEqual(network_of("not an address"), "not an address")
