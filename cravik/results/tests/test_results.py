"""Results: links compared, and the spots of one, as the page and its CSV say it."""

from __future__ import annotations

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from cravik.core.statistics.ladder import Rung
from cravik.journal.services import VisitedPage, climb, open_visit
from cravik.journal.visitors import Visitor
from cravik.links.models import Spot
from cravik.links.places.spots import first_spot, make_spot
from tests.factories import BY, MembershipFactory, make_live
from tests.paying import pay_live


class ResultsTest(TestCase):
    def setUp(self) -> None:
        member = MembershipFactory()
        self.business = member.business
        self.link = make_live(self.business)
        self.sign, self.letter = (
            make_spot(self.link, name, timezone.now(), by=BY) for name in ("Stall sign", "=Newsletter")
        )
        self.client.force_login(member.user)
        self.page = f"/links/{self.link.pk}/results/"

    def come(self, spot: Spot, visits: int, paid: int, days_ago: int = 0) -> None:
        now = timezone.now() - timedelta(days=days_ago)
        for number in range(visits):
            met = VisitedPage(self.business.pk, spot.link_id, spot.pk)
            visit = open_visit(met, Visitor(f"{spot.pk}-{days_ago}-{number}", f"{spot.pk}"), now).visit_id
            assert visit is not None
            if number < paid:
                climb(visit, spot.link_id, Rung.PAID, now)

    def said(self, address: str) -> str:
        return "".join(piece.text for piece in self.client.get(address).context["comparison"].sentence)

    def test_the_sentence_says_what_so_many_visits_can_tell(self) -> None:
        self.assertEqual(self.said(self.page), "Nobody came in these days.")
        self.come(self.sign, 8, 2)
        self.assertEqual(self.said(self.page), "8 visits so far: too few to tell. A rate is shown from 20 visits on.")
        self.come(self.sign, 60, 18, days_ago=1)
        self.come(self.letter, 60, 3)
        self.assertTrue(self.said(self.page).startswith("Stall sign converts best: 29.4"), self.said(self.page))
        self.come(first_spot(self.link), 50, 14)
        self.assertIn("is not clearly ahead of Main link yet", self.said(self.page))

    def test_rows_are_on_one_scale_each_against_the_first(self) -> None:
        self.come(self.sign, 60, 20)
        self.come(self.letter, 60, 3)
        self.come(first_spot(self.link), 5, 5)
        comparison = self.client.get(self.page).context["comparison"]
        rows = {row.counted.name: row for row in comparison.rows}
        self.assertEqual(list(rows), ["Stall sign", "=Newsletter", "Main link"])
        self.assertEqual(rows["=Newsletter"].verdict.says, "better")
        self.assertIsNone(rows["Main link"].dot)
        self.assertEqual(
            (comparison.chart.top, comparison.whole.ladder.opened, comparison.whole.ladder.paid), (0.5, 125, 28)
        )
        self.assertContains(self.client.get(self.page), "Converts less than the first.")
        table = b"".join(self.client.get(f"{self.page}?as=csv").streaming_content).decode("utf-8-sig").splitlines()
        self.assertEqual(table[1], "Stall sign,60,20,20,20,0.3333,0.2273,0.4594,,,17")
        self.assertEqual(table[2].split(",")[0], "'=Newsletter")
        self.assertEqual(table[3], "Main link,5,5,5,5,,,,,,17")

    def test_money_is_by_link_and_by_visit_and_the_days_are_remembered(self) -> None:
        self.client.logout()
        pay_live(self.client, self.link)
        self.client.get(self.link.path, headers={"user-agent": "Mozilla/5.0 (X11; Linux) Another/1.0"})
        self.client.force_login(self.business.members.get())
        row = self.client.get("/results/").context["comparison"].rows[0].counted
        self.assertEqual(
            ([each.major for each in row.money], [each.major for each in row.per_visit]), (["24.00"], ["12.00"])
        )
        day = timezone.now().date() - timedelta(days=3)
        self.assertContains(self.client.get(f"/results/?from={day}&to={day}"), "Nothing to compare")
        self.assertEqual(self.said(self.page), "Nobody came in these days.")
        for wrong in (
            "from=x&to=",
            "from=2026-02-31",
            f"from={day}&to={day - timedelta(days=9)}",
            "from=0001-01-01&to=9999-12-31",
            *("from=0001-01-01&to=0001-01-03", "from=9999-12-31&to=9999-12-31", "to=0001-01-01", "from=20260102&to=1"),
        ):
            self.assertEqual(self.client.get(f"/results/?{wrong}").status_code, 200, wrong)
