"""What buyers are asked, and when it can be bought, as it is set on the bench."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import time_machine
from django.http import HttpResponse

from cravik.core.documents.link import MAX_QUESTIONS
from cravik.links.life import lifecycle
from cravik.links.models import LinePieces, Link
from tests.bench_form import BenchCase, rows_of
from tests.factories import BY, NOW
from tests.links import line


class QuestionsTest(BenchCase):
    def act(self, link: Link, act: str, **typed: str) -> HttpResponse:
        link.refresh_from_db()
        answer = self.save(link, by_script=False, act=act, **typed)
        link.refresh_from_db()
        return answer

    def test_a_line_becomes_a_question_of_the_kind_that_it_says(self) -> None:
        link = self.link()
        for said, question in (
            ("Size: S, M, L", {"key": "size", "kind": "one_of", "label": "Size", "options": ["S", "M", "L"]}),
            ("*Colours (any): red, blue", {"kind": "several_of", "options": ["red", "blue"], "required": True}),
            ("How many guests?", {"kind": "number", "whole": True}),
            ("How wide shall it be?", {"kind": "number"}),
            ("Which day shall it be ready?", {"kind": "day"}),
            ("Is it a present?", {"kind": "yes_no"}),
            ("Describe the kite", {"kind": "long_text"}),
            ("Name on the tail", {"kind": "short_text", "key": "name-on-the-tail"}),
        ):
            with self.subTest(said):
                answer = self.act(link, "ask", new_question=said)
                self.assertEqual(answer["Location"], f"/links/{link.pk}/#panel-questions")
                made = link.draft["questions"][-1]
                self.assertEqual(made, made | question)
        self.assertEqual(len(link.content.questions), 8)
        before = link.draft
        self.save(link)
        link.refresh_from_db()
        self.assertEqual(link.draft, before, "the rows say the same")
        self.assertContains(self.client.get(f"/for/rehearsal/{link.pk}/"), "Name on the tail")
        for said, words in (
            ("", "Write the question first."),
            ("size: A, B", "asks the same"),
            ("x" * 130, "up to 120"),
        ):
            self.assertContains(self.act(link, "ask", new_question=said), words, status_code=400)

    def test_rows_are_read_in_their_places_and_wrong_ones_told(self) -> None:
        link = self.link()
        first = {"key": "new", "label": "How wide?", "kind": "number", "least": "0,5", "most": "4", "place": "1"}
        second = {
            "key": "new",
            "label": "Size",
            "kind": "one_of",
            "options": "S, M, , S",
            "place": "0",
            "required": "on",
        }
        self.save(link, **rows_of("questions", first, second))
        link.refresh_from_db()
        self.assertEqual(
            link.draft["questions"],
            [
                {"key": "size", "kind": "one_of", "label": "Size", "required": True, "options": ["S", "M"]},
                {"key": "how-wide", "kind": "number", "label": "How wide?", "least": "0.5", "most": 4},
            ],
        )
        for row, at in (
            ({"kind": "one_of", "label": "Size"}, "options"),
            ({"kind": "number", "label": "Wide", "least": "much"}, "least"),
            ({"kind": "short_text", "label": "Tail", "longest": "300"}, "longest"),
            ({"kind": "long_text", "label": "Tail", "shortest": "9", "longest": "3"}, "longest"),
            ({"kind": "day", "label": "Day", "earliest": "2026-12-02", "latest": "2026-12-01"}, "latest"),
            ({"kind": "short_text", "help": "?"}, "label"),
        ):
            with self.subTest(row):
                answer = self.save(link, **rows_of("questions", row))
                self.assertEqual(list(answer.json()["errors"]), [f"questions-0-{at}"])
        twins = [{"label": "Size", "kind": "short_text"}, {"label": "size", "kind": "short_text"}]
        self.assertIn("asks the same", str(self.save(link, **rows_of("questions", *twins)).json()["errors"]))
        many = [{"label": f"Q {n}", "kind": "short_text"} for n in range(MAX_QUESTIONS + 1)]
        self.assertEqual(self.save(link, **rows_of("questions", *many)).status_code, 400)

    def test_what_repeats_a_built_in_question_is_named_with_the_way_to_drop_it(self) -> None:
        link = self.link()
        self.act(link, "ask", new_question="Your e-mail address")
        page = self.client.get(f"/links/{link.pk}/")
        self.assertContains(page, "“Your e-mail address” asks for the e-mail address, which is always asked.")
        self.assertContains(page, "6 fields, 5 of them required: about 29 seconds on a phone.")
        self.assertContains(page, "“Your e-mail address” adds about 6.")
        self.act(link, "drop_question:your-e-mail-address")
        self.assertNotIn("questions", link.draft)
        self.assertContains(self.act(link, "drop_question:nothing"), "That question was deleted.", status_code=400)

    def test_built_in_questions_are_asked_as_they_are_set_and_said_by_nothing_otherwise(self) -> None:
        link = self.link()
        asks = {
            "ask_phone": "required",
            "ask_address": "optional",
            "ask_note": "optional",
            "label_note": "For the maker",
        }
        self.save(link, **asks, newsletter_words="Tell me of new kites")
        link.refresh_from_db()
        self.assertEqual(
            link.draft["asks"],
            {
                "phone": "required",
                "address": "optional",
                "note": {"ask": "optional", "label": "For the maker"},
                "newsletter": "Tell me of new kites",
            },
        )
        page = self.client.get(f"/for/rehearsal/{link.pk}/")
        for words in ("Phone", "Street and number", "For the maker", "Tell me of new kites"):
            self.assertContains(page, words)
        self.save(link, ask_phone="no", ask_address="if sent", ask_note="no", label_note="", newsletter_words="")
        link.refresh_from_db()
        self.assertNotIn("asks", link.draft)


class LimitsTest(BenchCase):
    def setUp(self) -> None:
        super().setUp()
        self.member.business.time_zone = "Europe/Dublin"
        self.member.business.save()

    def set_limits(self, link: Link, **typed: str) -> Any:
        link.refresh_from_db()
        answer = self.save(link, **typed)
        link.refresh_from_db()
        return answer

    @time_machine.travel(NOW, tick=False)
    def test_an_end_is_kept_in_the_seller_s_zone_said_and_told_as_a_distance(self) -> None:
        link = self.link(line(name="Kites"))
        closes = (NOW + timedelta(hours=35)).strftime("%Y-%m-%dT%H:%M")
        answer = self.set_limits(link, closes_at=closes, orders="40", orders_per_buyer="2")
        limits = link.draft["limits"]
        self.assertEqual((limits["orders"], limits["orders_per_buyer"]), (40, 2))
        self.assertTrue(limits["closes_at"].endswith("+00:00"))
        pieces = answer.json()["pieces"]
        self.assertIn("in 35 hours", pieces["limits"])
        self.assertIn("or 40 orders, at most 2 orders a buyer", pieces["sentence"])
        before = link.draft
        self.set_limits(link, words="Still")
        self.assertEqual(link.draft["limits"], before["limits"])
        self.set_limits(link, closes_at="", orders="", orders_per_buyer="")
        self.assertNotIn("limits", link.draft)

    def test_how_many_there_are_is_said_of_each_thing_in_its_own_word(self) -> None:
        many = {"quantity": {"max": None}, "optional": True}
        link = self.link(line("adult", "Adult", **many), line("tee", "Festival tee", **many))
        sent = {"pieces.adult": "12", "pieces_per_buyer.adult": "4", "pieces.tee": "30"}
        words = {"counted_as.adult": "ticket", "counted_as.tee": "piece"}
        answer = self.set_limits(link, **sent, **words)
        self.assertEqual(
            link.draft["limits"],
            {"pieces": {"adult": 12, "tee": 30}, "pieces_per_buyer": {"adult": 4}, "counted_as": {"adult": "ticket"}},
        )
        self.assertIn("12 tickets for Adult and 30 pieces for Festival tee", answer.json()["pieces"]["sentence"])
        self.save(link, act="remove:tee")
        link.refresh_from_db()
        self.assertEqual(link.draft["limits"]["pieces"], {"adult": 12})
        self.set_limits(link, **dict.fromkeys(("pieces.adult", "pieces_per_buyer.adult", "counted_as.adult"), ""))
        self.assertNotIn("limits", link.draft)

    def test_fewer_than_were_sold_or_than_an_order_takes_is_refused_at_the_field(self) -> None:
        link = self.link(line(name="Seat", quantity={"default": 2, "min": 2, "max": 9}))
        LinePieces.objects.create(link=link, line="kite", paid=5, held=2)
        for typed, words in (
            ("6", "“Seat”: 7 seats are sold or being paid for, so there can't be 6 in all. Make it 7 or more."),
            ("0", "A whole number from 1 to 1,000,000."),
            ("1.5", "Write a whole number, such as 10."),
            ("twelve", "Write a whole number, such as 10."),
        ):
            with self.subTest(typed):
                refused = self.set_limits(link, **{"pieces.kite": typed}).json()["errors"]
                self.assertEqual(refused, {"pieces.kite": [words]})
        refused = self.set_limits(link, **{"pieces_per_buyer.kite": "1"}).json()["errors"]
        self.assertEqual(refused, {"pieces_per_buyer.kite": ["An order takes 2 or more of it."]})
        self.assertNotIn("limits", link.draft)

    def test_a_later_price_may_come_after_so_many_pieces(self) -> None:
        link = self.link(line(name="Workshop seat"), offer={"title": "Workshop seat"})
        self.assertContains(self.client.get(f"/links/{link.pk}/"), '<option value="pieces">seats</option>')
        answer = self.set_limits(link, **rows_of("steps", {"amount": "60", "after": "5", "counts": "pieces"}))
        self.assertIn("then €60.00 after 5 seats", answer.json()["pieces"]["sentence"])
        self.assertEqual(link.draft["steps"][0]["after_pieces"], 5)

    def test_an_hour_on_the_day_on_which_the_clocks_change_is_that_hour(self) -> None:
        link = self.link()
        for typed, kept in (
            ("2027-03-28T18:00", "2027-03-28T18:00:00+01:00"),
            ("2027-03-27T18:00", "2027-03-27T18:00:00+00:00"),
            ("2026-10-25T18:00", "2026-10-25T18:00:00+00:00"),
            ("2026-10-24T18:00", "2026-10-24T18:00:00+01:00"),
        ):
            with self.subTest(typed):
                self.set_limits(link, closes_at=typed)
                self.assertEqual(link.draft["limits"]["closes_at"], kept)
                shown = self.client.get(f"/links/{link.pk}/")
                self.assertContains(shown, f'value="{typed}"')

    def test_what_closes_before_it_opens_is_told(self) -> None:
        link = self.link()
        answer = self.set_limits(link, opens_at="2027-01-02T10:00", closes_at="2027-01-02T10:00")
        self.assertEqual(list(answer.json()["errors"]), ["closes_at"])

    def test_a_link_that_ended_is_open_again_once_a_later_end_is_published(self) -> None:
        link = self.link()
        self.set_limits(link, closes_at="2027-01-02T10:00")
        now = NOW
        lifecycle.publish(link, now, by=BY)
        with time_machine.travel("2027-01-03T10:00:00+00:00", tick=False):
            self.assertContains(self.client.get(link.path), "Kite", status_code=410)
            self.client.force_login(self.member.user)
            self.set_limits(link, closes_at="2027-02-02T10:00")
            link.refresh_from_db()
            self.client.post(f"/links/{link.pk}/publish/")
            self.client.logout()
            self.assertEqual(self.client.get(link.path).status_code, 200)
