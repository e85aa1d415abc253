"""Lines as sellers type them, written without sight of the grammar, held to what each should become."""

from __future__ import annotations

import io
import json
import tempfile
from collections import Counter
from datetime import date
from pathlib import Path
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

from django.core.management import CommandError, call_command
from django.test import TestCase

from cravik.core.text.said.pieces import When
from cravik.links.management.commands.say import said
from cravik.links.tests.said_rows import DATA, Verdict, rows_in, verdict_of
from tests.factories import make_business

#: Of each file how many are right at least, and wrong in silence at most. A better reader raises and lowers these.
MEASURED = {"said-lines.ndjson": (88, 0), "said-lines-2.ndjson": (198, 0)}


WHEN = When(date(2026, 11, 29), ZoneInfo("UTC"))


def _when(row: dict[str, Any]) -> When:
    return When(date.fromisoformat(row["today"]), ZoneInfo(row["time_zone"]))


class SaidLinesTest(TestCase):
    def test_no_row_reads_worse_than_it_did(self) -> None:
        for name, (right, wrong) in MEASURED.items():
            verdicts = Counter(verdict_of(row, said(row["text"], row["currency"], _when(row))) for row in rows_in(name))
            with self.subTest(name, verdicts=verdicts):
                self.assertGreaterEqual(verdicts[Verdict.RIGHT], right)
                self.assertLessEqual(verdicts[Verdict.WRONG], wrong)

    def test_a_row_is_judged_by_what_it_sells_for(self) -> None:
        row = {"expect": said("Oak stool 140", "EUR", WHEN)["document"]}
        cases = {
            "an OAK stool! 140": Verdict.RIGHT,
            "Oak stool 141": Verdict.WRONG,
            "Oak stools 140": Verdict.WRONG,
            "Oak stool 140, up to 3": Verdict.WRONG,
            "Oak stool 140 every month": Verdict.WRONG,
            "Oak stool 140, 3 places": Verdict.WRONG,
            "Oak stool 140, up too 3": Verdict.ASKED,
        }
        for text, verdict in cases.items():
            with self.subTest(text):
                self.assertEqual(verdict_of(row, said(text, "EUR", WHEN)), verdict)
        self.assertEqual(verdict_of({"expect": None}, said("Oak stool 140", "EUR", WHEN)), Verdict.WRONG)
        self.assertEqual(verdict_of({"expect": None}, said("Oak stool 140, up too 3", "EUR", WHEN)), Verdict.RIGHT)


class SayTest(TestCase):
    def say(self, *arguments: str) -> list[dict[str, object]]:
        out = io.StringIO()
        with mock.patch("sys.stdout", out):
            call_command("say", *arguments)
        return [json.loads(line) for line in out.getvalue().splitlines()]

    def test_one_line_in_the_first_businesss_currency(self) -> None:
        with self.assertRaisesMessage(CommandError, "There is no business yet"):
            self.say("Oak stool 140")
        business = make_business()
        business.currency = "DKK"
        business.save()
        (answer,) = self.say("Oak stool 140, postd to Ireland")
        self.assertEqual(list(answer), ["document", "missed", "ask", "elsewhere"])
        self.assertEqual([each["about"] for each in answer["ask"]], ["postd to Ireland"])
        (answer,) = self.say("Oak stool 140, posted to Ireland")
        self.assertEqual((answer["missed"], answer["elsewhere"]), ([], ["delivery"]))
        self.assertIn('"currency": "DKK"', json.dumps(answer["document"]))

    def test_it_says_why_a_line_is_read_as_it_is(self) -> None:
        make_business()
        best, *others = self.say("Concert 20, doors 7", "--why")
        self.assertEqual(best["pieces"], [["price", "20"], ["price", "7"]])
        self.assertEqual(best["against"], ["asked: doors 7"])
        self.assertTrue(all(way["score"] <= best["score"] for way in others))  # type: ignore[operator]

    def test_a_file_a_row_a_line(self) -> None:
        answers = self.say("--batch", str(DATA / "said-lines.ndjson"))
        self.assertEqual([each["id"] for each in answers], [f"said-{number:03}" for number in range(1, 90)])

    def test_what_is_no_file_or_row_is_refused_with_its_place(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "rows.ndjson"
            for content, told in (
                ("{}", "row 1 is not"),
                ('\n{"text": 3, "currency": "EUR"}', "row 2 is not"),
                ("[", "is no JSON"),
                ('{"text": "Oak stool 140", "currency": "florin"}', "“florin” is no currency"),
                (json.dumps({"text": "x" * 50_000, "currency": "EUR"}), "too long"),
            ):
                file.write_text(content)
                with self.subTest(told), self.assertRaisesMessage(CommandError, told):
                    self.say("--batch", str(file))
            with self.assertRaisesMessage(CommandError, "can't be read"):
                self.say("--batch", f"{folder}/none")
        for arguments in ((), ("text", "--batch", "file")):
            with self.assertRaisesMessage(CommandError, "Name one text"):
                self.say(*arguments)
