"""Links made of a said line, and of several."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

import cravik.core.tests
from cravik.core.text.faults import gap_words
from cravik.links.bench.sheet import BenchSheet
from cravik.links.making.examples import FIRST_EXAMPLES, OTHER_EXAMPLES, examples_for
from cravik.links.making.from_text import read_line, read_lines
from cravik.links.models import Link
from tests.bench_form import BenchCase, sheet_as_sent
from tests.factories import make_item, make_live
from tests.sampling import sample_of

LINES = Path(cravik.core.tests.__file__).parent / "data" / "lines.ndjson"


class SayingTest(BenchCase):
    def say(self, text: str, **more: str) -> Any:
        return self.client.post("/links/say/", {"said": text} | more)

    def test_each_example_is_understood_and_becomes_a_draft_that_the_bench_keeps_as_it_is(self) -> None:
        self.assertEqual(examples_for(self.member.business, timezone.now()), (*FIRST_EXAMPLES, *OTHER_EXAMPLES))
        make_live(self.member.business, "Bowl", 1200)
        self.assertEqual(examples_for(self.member.business, timezone.now())[0], "Bowl 12.00")
        make_item(self.member.business, "Jug, small", 1850)
        for example in (*FIRST_EXAMPLES, *examples_for(self.member.business, timezone.now())):
            with self.subTest(example):
                self.assertEqual(self.say(example).status_code, 302)
                link = Link.objects.latest("id")
                self.assertIsNotNone(link.effective, link.gaps)
                draft = link.draft
                sent = sheet_as_sent(BenchSheet(link))
                self.client.post(f"/links/{link.pk}/", sent)
                link.refresh_from_db()
                self.assertEqual(link.draft, draft)

    def test_each_line_that_is_understood_lacks_nothing_but_a_price(self) -> None:
        typed = [each for each in map(json.loads, LINES.read_text(encoding="utf-8").splitlines()) if "typed" in each]
        self.assertGreater(len(typed), 200)
        for line in sample_of(typed, 10, "lines"):
            read = read_line(self.member.business, line["typed"], timezone.now())
            if read.is_understood and all("price" in each for each in read.draft["offer"]["lines"]):
                self.assertEqual(read.gaps, (), line["typed"])

    def test_what_is_not_understood_makes_nothing_and_is_named(self) -> None:
        refused = self.say("48 for a Delta kite, up too 3")
        self.assertContains(refused, "What is “up too 3”?", status_code=400)
        self.assertContains(refused, "48 for a Delta kite, up too 3</textarea>", status_code=400)
        self.assertContains(self.say("10.555 for a kite"), "can be read in two ways", status_code=400)
        for text in ("", " \n ", "48", "48 for"):
            self.assertEqual(self.say(text).status_code, 400)
        self.assertFalse(Link.objects.exists())
        # Without a price it is a draft with a gap, as it stands there.
        self.assertContains(self.say("Kite repair"), "What does it cost?", status_code=400)
        self.say("Kite repair, price later")
        self.assertEqual([gap_words(gap) for gap in Link.objects.get().gaps], ["“Kite repair” has no price yet."])

    def test_it_can_be_published_at_once_unless_something_is_in_the_way(self) -> None:
        made = self.say("Kite repair 24", publish="yes")
        link = Link.objects.get()
        self.assertEqual((made["Location"], link.state), (f"/links/{link.pk}/hand-out/", "live"))
        self.client.post("/links/say/", {"said": "giant 600 in 6 instalments", "publish": "yes"})
        self.assertEqual(Link.objects.latest("id").state, "live")
        gap = self.client.post("/links/say/", {"said": "Kite repair, price later", "publish": "yes"}, follow=True)
        self.assertContains(gap, "It is not published: ")
        self.assertEqual(Link.objects.latest("id").state, "draft")

    def test_several_lines_are_looked_at_first_and_what_was_not_understood_stays(self) -> None:
        text = "Kite repair 24\r\n\r\nSpar set 12, form 3 10\nTail 9"
        look = self.say(text)
        self.assertContains(look, "the 2 that are understood")
        self.assertFalse(Link.objects.exists())
        made = self.client.get(self.say(text, looked="yes")["Location"])
        self.assertContains(made, "2 drafts are made")
        self.assertContains(made, "Spar set 12, form 3 10</textarea>")
        self.assertEqual(Link.objects.count(), 2)
        self.assertRedirects(self.say("A kite 1\nB kite 2", looked="yes"), "/")
        many = "\n".join(f"Kite number {number}x 5" for number in range(60))
        with CaptureQueriesContext(connection) as captured:
            self.assertEqual(len(read_lines(self.member.business, many, timezone.now())), 50)
        self.assertLess(len(captured), 10)
        self.assertContains(self.say(many), "The other 10 stay in the field")
        rest = self.client.get(self.say(many, looked="yes")["Location"])
        self.assertEqual((Link.objects.count(), rest.context["text"].count("\n")), (54, 9))

    def test_a_thing_of_the_catalogue_is_that_item_unless_it_has_options_of_its_own(self) -> None:
        item = make_item(self.member.business, "Tail ribbon", 350, code="TAIL")
        said = read_line(self.member.business, "tail ribbon", timezone.now())
        self.assertEqual(said.items, {"tail-ribbon": item})
        self.assertEqual(said.draft["offer"]["lines"][0]["price"]["amount"], "3.50")
        self.assertIn("“Tail ribbon” is sold from your catalogue.", said.notes)
        self.say("TAIL 4.20, up to 25")
        link = Link.objects.get()
        self.assertEqual(link.draft["items"], {"tail": "TAIL"})
        self.assertEqual((link.title, link.offer.lines[0].price.amount.major), ("Tail ribbon", "4.20"))
        own = read_line(self.member.business, "Tail ribbon 3 in red or blue", timezone.now())
        self.assertEqual((own.items, len(own.notes)), ({}, 1))
        self.assertIn("With options of its own, this is not that one.", own.notes[0])

    def test_while_one_types_the_sentence_and_the_page_are_answered(self) -> None:
        answer = self.client.post("/links/say/understood/", {"said": "Kite repair 24, tax included"}).json()
        self.assertIn("€24.00</span>", answer["html"])
        self.assertIn("Tax is as you set it under Tax in Setup.", answer["html"])
        page = self.client.get("/for/rehearsal/line/", {"said": answer["text"]})
        self.assertContains(page, "Pay €24.00")
        self.assertEqual(self.client.get("/for/rehearsal/line/", {"said": "Kite"}).status_code, 204)
        self.assertEqual(self.client.post("/links/say/understood/", {"said": "Kite"}).json()["text"], "")
        self.client.logout()
        self.assertEqual(self.client.get("/for/rehearsal/line/", {"said": "Kite 4"}).status_code, 302)
