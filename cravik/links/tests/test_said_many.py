"""What is said of many links: the list finds them, shows what would change, and does it once that was seen."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.utils import timezone

from cravik.links.life import lifecycle
from cravik.links.models import Link
from cravik.people.actors import CLOCK
from tests.bench_form import BenchCase
from tests.factories import make_live


class SaidManyTest(BenchCase):
    def setUp(self) -> None:
        super().setUp()
        self.kite = make_live(self.member.business, "Beach kite", 4800)
        self.bowl = make_live(self.member.business, "Bowl", 1200)

    def say(self, line: str) -> Any:
        return self.client.post("/links/many/said/", {"line": line})

    def do(self, looked: Any) -> None:
        seen, act = looked.context, looked.context["act"]
        sent = {"many": act.name, "said": "yes", "sure": "yes"} | {name: act.data.get(name, "") for name in act.fields}
        self.client.post("/links/many/", sent | {name: seen[name] for name in ("ids", "sought", "looked")})

    def test_the_search_finds_or_offers_to_do(self) -> None:
        self.assertNotContains(self.client.get("/", {"q": "bowl"}), "Preview changes")
        found = self.client.get("/", {"q": "pause the beach ones"})
        self.assertContains(found, "is about 1 link")
        self.assertContains(found, "Beach kite")
        self.assertNotContains(found, ">Bowl<")
        self.assertContains(self.client.get("/", {"q": "pause the river ones"}), "is about no links")

    def test_prices_go_up_once_that_was_seen(self) -> None:
        looked = self.say("everything up 10 %")
        self.assertContains(looked, "€48.00 → €52.80")
        self.kite.refresh_from_db()
        self.assertEqual(self.kite.offer.lines[0].price.amount.major, "48.00")
        self.do(looked)
        self.kite.refresh_from_db()
        self.bowl.refresh_from_db()
        prices = [link.offer.lines[0].price.amount.major for link in (self.kite, self.bowl)]
        self.assertEqual(prices, ["52.80", "13.20"])

    def test_a_pause_until_a_day_is_over_by_itself(self) -> None:
        looked = self.say("pause the beach ones until tomorrow")
        self.assertContains(looked, "live → paused until")
        self.do(looked)
        self.kite.refresh_from_db()
        self.bowl.refresh_from_db()
        self.assertEqual((self.kite.state, self.bowl.state), ("paused", "live"))
        self.assertContains(self.client.get("/"), "until")
        now = timezone.now()
        self.assertEqual(lifecycle.resume_what_is_due(now), 0)
        self.assertEqual(lifecycle.resume_what_is_due(now + timedelta(days=2)), 1)
        self.assertEqual(lifecycle.resume_what_is_due(now + timedelta(days=2)), 0)
        self.kite.refresh_from_db()
        self.assertEqual((self.kite.state, self.kite.resumes_at), ("live", None))

    def test_what_ends_meanwhile_stays_ended(self) -> None:
        now = timezone.now()
        lifecycle.pause(self.kite, now, by=CLOCK, until=now + timedelta(hours=1))
        lifecycle.end(self.kite, now, by=CLOCK)
        self.assertEqual(lifecycle.resume_what_is_due(now + timedelta(days=1)), 0)
        self.assertEqual(Link.objects.get(pk=self.kite.pk).state, "ended")

    def test_what_is_not_understood_changes_nothing_and_is_told(self) -> None:
        told = self.client.post("/links/many/said/", {"line": "everything up <b>5</b>"}, follow=True)
        self.assertContains(told, "Not understood")
        self.assertNotContains(told, "<b>5</b>")
        self.client.logout()
        self.assertEqual(self.say("pause everything").status_code, 302)
        self.assertEqual(Link.objects.filter(state="paused").count(), 0)

    def test_spots_are_said_on_hand_out(self) -> None:
        self.client.post(f"/links/{self.kite.pk}/hand-out/", {"name": "a spot for the library, one for the kiosk"})
        self.client.post(f"/links/{self.kite.pk}/hand-out/", {"name": "Stall sign"})
        names = set(self.kite.spots.values_list("name", flat=True))
        self.assertLessEqual({"Library", "Kiosk", "Stall sign"}, names)
