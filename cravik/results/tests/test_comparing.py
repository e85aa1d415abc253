"""Every kind of comparison finds what it should, and gives it away as table and picture."""

from __future__ import annotations

import io
from datetime import datetime, timedelta
from typing import Any
from xml.etree import ElementTree
from zoneinfo import ZoneInfo

import time_machine
from django.core.management import CommandError
from django.test import TestCase
from PIL import Image

from cravik.journal.models import LeftOut
from cravik.journal.services import VisitedPage, leave_out, open_visit
from cravik.journal.visitors import Visitor
from cravik.links.life.lifecycle import publish
from cravik.links.making.copies import copy_link
from cravik.links.making.documents import import_link
from cravik.links.models import Link
from cravik.links.places.spots import end_spot, first_spot, make_spot
from cravik.results.comparing.campaigns import campaign_words
from cravik.results.tests.test_report import results
from tests.factories import BROWSER, BY, MembershipFactory, change_price
from tests.links import document
from tests.paying import filled_in, send

PHONE = "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148"
DUBLIN = ZoneInfo("Europe/Dublin")
#: A Sunday on which the clocks go back, in the middle of the day.
NOW = datetime(2026, 10, 25, 15, tzinfo=DUBLIN)


class ComparingTest(TestCase):
    def setUp(self) -> None:
        clock = time_machine.travel(NOW, tick=False)
        clock.start()
        self.addCleanup(clock.stop)
        self.member = MembershipFactory(business__time_zone="Europe/Dublin")
        self.business = self.member.business
        codes = [{"code": "WIND15", "kind": "percent", "percent": "15"}]
        self.link = import_link(self.business, document(offer={"codes": codes}), NOW, published=True, by=BY)
        self.buyers = 0

    def come(self, query: str = "", paying: dict[str, str] | None = None, agent: str = BROWSER, site: str = "") -> None:
        self.buyers += 1
        headers = {"user-agent": f"{agent} {self.buyers}"} | ({"referer": site} if site else {})
        page = self.client.get(f"{self.link.path}{query}", headers=headers)
        if paying is not None:
            form = filled_in(page, email=f"b{self.buyers}@dunes.example", **paying)
            response = send(self.client, self.link, form, **{"user-agent": headers["user-agent"]})
            self.assertEqual(response.status_code, 303)

    def change(self) -> None:
        change_price(self.link, 2600)
        self.link = publish(Link.objects.get(id=self.link.pk), NOW, by=BY)

    def page(self, query: str, of_link: bool = True) -> Any:
        self.client.force_login(self.member.user)
        address = f"/links/{self.link.pk}/results/" if of_link else "/results/"
        response = self.client.get(f"{address}{query}")
        self.client.logout()
        return response

    def rows(self, by: str, of_link: bool = True) -> dict[str, tuple[Any, ...]]:
        found = self.page(f"?by={by}", of_link).context["comparison"].rows
        return {
            row.counted.name: (
                row.counted.ladder.opened,
                row.counted.ladder.paid,
                *(m.major for m in row.counted.money),
            )
            for row in found
        }

    def test_each_kind_tells_visits_and_money_apart_by_what_brought_them(self) -> None:
        self.come("?utm_source=Letter&utm_campaign=Spring", paying={}, site="https://www.club.example/page")
        self.come("?utm_source=Letter&utm_campaign=Spring", site="https://club.example/")
        self.come(agent=PHONE, paying={"code": "wind15", "seen_total": "20.40", "seen_now": "20.40"})
        for of_link in (True, False):
            with self.subTest(of_link=of_link):
                campaigns = {"Spring · Letter": (2, 1, "24.00"), "No campaign": (1, 1, "20.40")}
                self.assertEqual(self.rows("campaign", of_link), campaigns)
                sites = {"club.example": (2, 1, "24.00"), "No site named": (1, 1, "20.40")}
                self.assertEqual(self.rows("site", of_link), sites)
                devices = {"Computers": (2, 1, "24.00"), "Phones": (1, 1, "20.40")}
                self.assertEqual(self.rows("device", of_link), devices)
                codes = {"WIND15": (1, 1, "20.40"), "No code": (1, 1, "24.00")}
                self.assertEqual(self.rows("code", of_link), codes)
        self.assertEqual(results("--by", "campaign")["rows"][1]["money"], {"EUR": "20.40"})
        self.assertEqual(results("--link", self.link.slug, "--by", "spot")["rows"][0]["paid"], 2)
        with self.assertRaisesMessage(CommandError, "add --link"):
            results("--by", "spot")
        self.assertEqual(self.rows("spot"), {"Main link": (3, 2, "44.40")})
        self.assertEqual(self.rows("link", of_link=False), {self.link.name: (3, 2, "44.40")})
        self.assertEqual(self.page("?by=code").context["comparison"].sentence[0].text[:8], "1 try so")
        self.assertEqual(campaign_words({"utm_campaign": "a", "utm_id": "7"}), "a · id 7")

    def test_versions_and_copies_are_compared_each_with_its_own_visits(self) -> None:
        self.assertContains(self.page("?by=copy"), "This link has no copies.")
        self.assertContains(self.page("?by=code"), "Nobody tried to pay with a discount code")
        self.come()
        said = self.page("?by=campaign").context["comparison"].sentence[0].text
        self.assertEqual(said, "No campaign is known of 1 visit in these days.")
        self.come(paying={})
        self.change()
        self.come()
        self.assertEqual(self.rows("version"), {"Version 1": (2, 1, "24.00"), "Version 2": (1, 0)})
        copy = publish(copy_link(copy_link(self.link, NOW, by=BY), NOW, by=BY), NOW, by=BY)
        open_visit(VisitedPage(self.business.pk, copy.pk, first_spot(copy).pk), Visitor("x", "n"), NOW)
        self.assertEqual(self.rows("copy")[copy.name], (1, 0))
        self.assertEqual(self.rows("copy")[self.link.name], (3, 1, "24.00"))

    def test_many_rows_come_in_pages_and_every_one_is_in_the_table(self) -> None:
        for number in range(45):
            make_spot(self.link, f"Post {number:02}", NOW, by=BY)
        response = self.page("?by=spot&page=2")
        self.assertContains(response, "26–46 of 46")
        table = b"".join(self.page("?by=spot&as=csv").streaming_content).decode("utf-8-sig").splitlines()
        self.assertEqual(len(table), 47)
        self.assertEqual(self.page("?as=svg").status_code, 200)

    def test_time_goes_by_hour_day_week_and_month_of_the_sellers_zone(self) -> None:
        met = VisitedPage(self.business.pk, self.link.pk, first_spot(self.link).pk)
        hours = [NOW.replace(hour=0), *(NOW.replace(hour=1, minute=30, fold=fold) for fold in (0, 1, 1))]
        for number, at in enumerate([*hours, NOW - timedelta(days=1), NOW - timedelta(days=3)]):
            open_visit(met, Visitor(f"{number}", f"{number}"), at)
        by_hour = self.page("?from=2026-10-25&to=2026-10-25").context["timed"]
        self.assertEqual([len(by_hour.stretches), by_hour.grain], [25, "hour"])
        self.assertEqual([each.visits.ladder.opened for each in by_hour.stretches[:4]], [1, 1, 2, 0])
        self.assertEqual(by_hour.before.visits.ladder.opened, 1)
        for grain, expected in (
            ("day", [("Thursday, 22 October", 1), ("Friday, 23 October", 0), ("Saturday, 24 October", 1)]),
            ("week", [("the week of 22 October", 6)]),
            ("month", [("October 2026", 6)]),
        ):
            timed = self.page(f"?from=2026-10-22&to=2026-10-25&per={grain}").context["timed"]
            named = [(each.name, each.visits.ladder.opened) for each in timed.stretches]
            self.assertEqual(named[: len(expected)], expected)
        spring = self.page("?from=2026-03-29&to=2026-03-29").context["timed"]
        self.assertEqual(len(spring.stretches), 23)
        self.assertEqual(self.page("?from=2020-01-01&to=2026-10-25&per=hour").context["timed"].grain, "month")

    def test_events_are_what_the_seller_did(self) -> None:
        self.change()
        spot = make_spot(self.link, "Stall sign", NOW, by=BY)
        end_spot(spot, "", NOW + timedelta(seconds=1), by=BY)
        timed = self.page("?from=2026-10-25&to=2026-10-25").context["timed"]
        words = [event.words for event in timed.events]
        self.assertEqual(words[0], "Published")
        self.assertIn("Version 2: €24.00 → €26.00", words)
        self.assertEqual(words[-2:], ["Spot made: Stall sign", "Spot ended: Stall sign"])
        self.assertEqual(timed.stretches[16].events, [1, 2, 3, 4])
        of_all = self.page("?from=2026-10-25&to=2026-10-25", of_link=False).context["timed"]
        self.assertEqual([event.words for event in of_all.events], [f"{self.link.name} published"])

    def test_every_table_and_picture_can_be_taken_away(self) -> None:
        self.come(paying={})
        for of in ("comparison", "time"):
            with self.subTest(of):
                svg = self.page(f"?as=svg&of={of}")
                self.assertEqual(ElementTree.fromstring(svg.content).tag, "{http://www.w3.org/2000/svg}svg")
                self.assertIn("attachment", svg["Content-Disposition"])
                image = Image.open(io.BytesIO(self.page(f"?as=png&of={of}").content))
                self.assertGreater(len(image.getcolors(1 << 20)), 8)
        table = b"".join(self.page("?as=csv&of=time").streaming_content).decode("utf-8-sig").splitlines()
        self.assertEqual(table[-1], "2026-10-25,1,1,1,1,24.00 EUR,Published")
        self.assertEqual(self.page("?as=exe").status_code, 404)

    def test_what_was_left_out_is_said_by_its_reason(self) -> None:
        met = VisitedPage(self.business.pk, self.link.pk, first_spot(self.link).pk)
        for _ in range(2):
            leave_out(met, LeftOut.Reason.ROBOT, NOW)
        self.assertContains(self.page(""), "robots, by a kept list: 2")
        self.client.force_login(self.member.user)
        self.assertContains(self.client.get("/results/guide/"), "thrown away every day")
