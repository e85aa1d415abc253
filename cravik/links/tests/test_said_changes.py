"""Changes said at the head of the bench: shown first, done then, and undone like any other."""

from __future__ import annotations

import json
from typing import Any

from django.utils import timezone

from cravik.core.tests.test_said import DATA
from cravik.links.bench.sheet import BenchSheet
from cravik.links.making.from_text import read_line
from cravik.links.models import Link, Todo
from tests.bench_form import BenchCase, sheet_as_sent


class SaidChangesTest(BenchCase):
    def setUp(self) -> None:
        super().setUp()
        self.client.post("/links/say/", {"said": "Delta kite 48, ask for phone and allergies"})
        self.link = Link.objects.latest("id")
        self.address = f"/links/{self.link.pk}/said/"

    def say(self, text: str, **more: str) -> Any:
        return self.client.post(self.address, {"change_said": text, **more})

    def do(self, text: str) -> Any:
        self.link.refresh_from_db()
        return self.say(text, sure="yes", seen=str(self.link.revision))

    def test_it_is_shown_first_in_the_words_of_the_versions_and_changes_nothing(self) -> None:
        shown = self.say("52, 10% off with EARLY until Friday, up to 3")
        for words in ("€48.00 → €52.00", "code EARLY added", "Change it"):
            self.assertContains(shown, words)
        self.link.refresh_from_db()
        self.assertEqual(self.link.offer.lines[0].price.amount.major, "48.00")
        answer = self.client.post(self.address, {"change_said": "52"}, headers={"Accept": "application/json"}).json()
        self.assertIn("€48.00 → €52.00", answer["html"])
        self.assertContains(self.say("tail 5"), "an extra, if wanted?")
        self.assertNotContains(self.say("up too 3"), "Change it")
        self.assertContains(self.say("48"), "That is how it is already.")

    def test_it_is_done_once_it_was_seen_and_undone_like_any_change(self) -> None:
        self.assertRedirects(self.do("52, up to 3, note “call Mary”"), f"/links/{self.link.pk}/")
        self.link.refresh_from_db()
        line = self.link.offer.lines[0]
        self.assertEqual((line.price.amount.major, line.quantity.max), ("52.00", 3))
        self.assertContains(self.client.get(f"/links/{self.link.pk}/"), "<strong>Still to do:</strong> call Mary")
        self.assertContains(self.client.get(f"/links/{self.link.pk}/"), "Undo: “52, up to 3, note “call Mary””")
        self.client.post(f"/links/{self.link.pk}/", sheet_as_sent(BenchSheet(self.link)) | {"act": "undo"})
        self.link.refresh_from_db()
        self.assertEqual(self.link.offer.lines[0].price.amount.major, "48.00")
        todo = Todo.objects.get()
        done = {"act": f"note_done:{todo.pk}"}
        self.client.post(f"/links/{self.link.pk}/", sheet_as_sent(BenchSheet(self.link)) | done)
        self.assertFalse(Todo.objects.exists())

    def test_an_answer_is_looked_at_in_place_of_what_was_asked(self) -> None:
        asked = self.say("38 until 1 March")
        self.assertContains(asked, "What comes after that?")
        self.assertContains(asked, 'value=" 38.00 until 1 March, then 48.00"')
        answered = self.client.post(self.address, {"instead": " 38.00 until 1 March, then 48.00"})
        self.assertContains(answered, "€48.00 → €38.00")
        self.assertContains(answered, 'value="38.00 until 1 March, then 48.00"')

    def test_a_code_for_what_is_added_with_it(self) -> None:
        self.do("gift wrap 3 extra, code WRAP 50% off the gift wrap")
        self.link.refresh_from_db()
        offer = self.link.offer
        self.assertEqual([code.lines for code in offer.codes if code.code == "WRAP"], [(offer.lines[-1].key,)])

    def test_what_was_changed_meanwhile_is_looked_at_once_more(self) -> None:
        seen = str(self.link.revision)
        self.do("50")
        again = self.say("52", sure="yes", seen=seen)
        self.assertContains(again, "€50.00 → €52.00")
        self.link.refresh_from_db()
        self.assertEqual(self.link.offer.lines[0].price.amount.major, "50.00")

    def test_each_subject(self) -> None:
        for text, words in (
            ("drop the first question", "question “Allergies”"),
            ("until 1 March", "until 2 Mar"),
            ("12 places", "12 orders"),
            ("in red or blue (+4)", "red or blue"),
            ("monthly", "every month"),
            ("end after 12", "12 times"),
            ("gift wrap 3 extra", "gift wrap"),
            ("button “Fly it”", "Fly it"),
            ("label market", "market"),
            ("no closing date", ""),
        ):
            with self.subTest(text):
                self.assertContains(self.say(text), words)
                self.assertEqual(self.do(text).status_code, 302, text)
                self.link.refresh_from_db()
                self.assertIsNotNone(self.link.effective, self.link.gaps)
        self.assertEqual(self.link.draft["labels"], ["market"])

    def test_a_stranger_and_hostile_words_change_nothing(self) -> None:
        self.assertContains(self.say("<script>alert(1)</script> 5"), "&lt;script&gt;")
        self.client.logout()
        self.assertEqual(self.do("52").status_code, 302)
        self.link.refresh_from_db()
        self.assertEqual(self.link.offer.lines[0].price.amount.major, "48.00")

    def test_every_line_that_makes_a_draft_makes_one_that_the_bench_can_keep(self) -> None:
        for name in ("said-lines.ndjson", "said-lines-2.ndjson"):
            for row in map(json.loads, (DATA / name).read_text().splitlines()):
                read = read_line(self.member.business, row["text"], timezone.now())
                if read.is_understood and read.parsed.offer.lines[0].price is not None:
                    self.assertEqual(read.gaps, (), row["text"])
