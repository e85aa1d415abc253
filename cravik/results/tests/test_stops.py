"""Where buyers stop: what the page's script and the posts say of fields, counted and told."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any

from django.http import HttpResponse
from django.test import TestCase
from django.utils import timezone

from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import conversion
from cravik.core.statistics.stops import Stop, standing_out
from cravik.core.text.trying import worth_trying
from cravik.journal.fields import FieldCount, Touched, fields_by_name, note_fields
from cravik.journal.models import FieldPath, FieldSum, Visit
from cravik.links.making.documents import import_link
from cravik.orders.summing import differences, sum_days
from cravik.setup.periods import Period, usual_period
from tests.factories import BROWSER, BY, MembershipFactory
from tests.links import document
from tests.paying import NO_FUNDS, filled_in, send

SCHOOL = {"key": "school", "kind": "short_text", "label": "Which school?", "required": True}


class StopsTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.business = self.member.business
        asked = document(questions=[SCHOOL, {"key": "say", "kind": "short_text", "label": "=Anything else?"}])
        self.link = import_link(self.business, asked, timezone.now(), published=True, by=BY)
        self.buyers = 0

    def opened(self) -> HttpResponse:
        self.buyers += 1
        return self.client.get(self.link.path, headers={"user-agent": f"{BROWSER} {self.buyers}"})

    def tell(self, page: HttpResponse, *names: str) -> int:
        token = re.search(r'name="page" value="([^"]+)"', page.content.decode())
        assert token
        self.client.post("/for/visit/started/", {"page": token[1]})
        return self.client.post("/for/visit/fields/", {"page": token[1], "touched": names}).status_code

    def press(self, **changes: str) -> HttpResponse:
        form = filled_in(self.opened(), email=f"b{self.buyers}@dunes.example", **changes)
        return send(self.client, self.link, form, **{"user-agent": f"{BROWSER} {self.buyers}"})

    def counts(self) -> dict[str, FieldCount]:
        return fields_by_name(self.business.pk, usual_period(self.business, timezone.now()), self.link.pk)

    def page(self, query: str = "") -> Any:
        self.client.force_login(self.member.user)
        response = self.client.get(f"/links/{self.link.pk}/results/{query}")
        self.client.logout()
        return response

    def test_the_script_says_names_alone_and_the_last_one_is_where_a_visit_stopped(self) -> None:
        page = self.opened()
        self.assertEqual(self.tell(page, "name", "email"), 204)
        self.tell(page, "name", "email")  # a second time, as browsers do
        self.tell(page, "email", "nonsense", "name")
        self.assertEqual(self.counts(), {"name": FieldCount(1, 0, 0, 1), "email": FieldCount(1)})
        path = FieldPath.objects.get()
        self.assertEqual((path.reached, path.last), (["name", "email"], "name"))
        self.assertEqual(self.client.post("/for/visit/fields/", {"page": "x", "touched": "name"}).status_code, 400)
        self.tell(self.opened())
        self.assertEqual(FieldPath.objects.count(), 1)

    def test_a_press_says_what_was_passed_left_blank_and_refused(self) -> None:
        self.assertEqual(self.press(answer__school="").status_code, 400)
        counts = self.counts()
        self.assertEqual(counts["answer.school"], FieldCount(1, 1, 1, 1))
        self.assertEqual((counts["answer.say"], counts["card_number"]), (FieldCount(1, 1), FieldCount(1)))
        self.assertEqual(self.press(**{"answer.school": "Strand", "card_number": NO_FUNDS}).status_code, 200)
        self.assertEqual(self.press(**{"answer.school": "Strand"}).status_code, 303)
        self.assertEqual(self.counts()["answer.school"], FieldCount(3, 1, 1, 1))
        stops = self.page().context["stops"]
        self.assertEqual((stops.unpaid.of, stops.unpaid.share, stops.untouched.share), (2, 0.5, 0.0))
        self.assertNotIn("Strand", str(list(FieldPath.objects.values())))

    def test_the_page_says_what_is_most_worth_trying_and_why(self) -> None:
        self.assertContains(self.page(), "Nobody began to fill the page in.")
        for number in range(60):
            page = self.opened()
            self.tell(page, *("name", "email", "answer.school", "card_number")[: 3 if number < 24 else 4])
        response = self.page()
        self.assertContains(response, "Make “Which school?” optional, or leave it out.")
        self.assertContains(response, "24 of the 60 who came to it went no further")
        table = b"".join(self.page("?as=csv&of=stops").streaming_content).decode("utf-8-sig").splitlines()
        self.assertIn("Your questions,Which school?,60,0,0,24,0.4000,0.2857,0.5263", table)
        self.assertIn("Your questions,'=Anything else?,0,0,0,0,,,", table)
        for kind in ("svg", "png"):
            self.assertEqual(self.page(f"?as={kind}&of=stops").status_code, 200)

    def test_a_field_that_is_gone_is_still_told_and_sums_hold_what_is_known(self) -> None:
        now = timezone.now() - timedelta(days=40)
        spot = self.link.spots.get()
        for _ in range(3):
            visit = Visit.objects.create(
                business_id=self.business.pk, link_id=self.link.pk, spot_id=spot.pk, rung=2, opened_at=now, last_at=now
            )
            note_fields(visit.pk, self.link.pk, Touched(["name", "answer.age"], last="answer.age"), now)
        note_fields(visit.pk, self.link.pk + 1, Touched(["email"]), now)
        note_fields(10**9, self.link.pk, Touched(["email"]), now)
        period = Period(now.date() - timedelta(days=31), timezone.now().date(), self.business.time_zone)
        without = fields_by_name(self.business.pk, period, self.link.pk)
        self.assertEqual(without, {"name": FieldCount(3), "answer.age": FieldCount(3, 0, 0, 3)})
        sum_days(self.business, timezone.now())
        self.assertEqual(fields_by_name(self.business.pk, period, self.link.pk), without)
        self.assertEqual(list(differences(self.business)), [])
        note_fields(visit.pk, self.link.pk, Touched(["email"], last="email"), timezone.now())
        for _ in range(2):
            self.assertEqual(fields_by_name(self.business.pk, period, self.link.pk)["answer.age"].stopped, 2)
            sum_days(self.business, timezone.now())
        FieldSum.objects.filter(grain="D").update(blank=7)
        self.assertEqual(len(list(differences(self.business))), 1)
        rows = self.page(f"?from={period.first}&to={period.last}").context["stops"].rows
        self.assertEqual([(row.step, row.stop.label) for row in rows][-1], ("No longer on the page", "age"))


class WorthTryingTest(TestCase):
    def test_what_does_not_stand_out_is_not_blamed(self) -> None:
        alike = [Stop(name, may_go=True, reached=200, stopped=8) for name in "abcdef"]
        self.assertIsNone(worth_trying(alike, Ladder(500, 400, 150, 140)))
        few = [*alike, Stop("g", may_go=True, reached=9, stopped=8)]
        self.assertIsNone(worth_trying(few, Ladder(500, 400, 150, 140)))
        theirs = [*alike, Stop("Card number", fixed=True, reached=200, stopped=80)]
        self.assertIsNone(worth_trying(theirs, Ladder(500, 400, 150, 140)))
        self.assertIsNone(worth_trying([], Ladder()))
        self.assertEqual(standing_out([conversion(0, 0)]), [False])

    def test_each_kind_of_field_gets_its_own_advice(self) -> None:
        alike = [Stop(name, reached=300, stopped=6) for name in "abcd"]
        ladder = Ladder(900, 310, 200, 180)
        for bad, words in (
            (Stop("X", may_go=True, is_required=False, reached=280, stopped=80), "Leave “X” out, or ask it after"),
            (Stop("X", reached=280, stopped=80), "Make “X” easier"),
            (Stop("X", reached=280, stopped=5, refused=90), "Say beside “X” what is wanted."),
        ):
            trial = worth_trying([*alike, bad], ladder)
            assert trial is not None
            self.assertTrue(trial.words.startswith(words), trial.words)
        seen = worth_trying(alike, Ladder(900, 100, 60, 50))
        assert seen is not None
        self.assertTrue(seen.words.startswith("Work on what is seen before any field"))
