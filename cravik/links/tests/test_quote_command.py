from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from io import StringIO
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import CommandError
from django.test import SimpleTestCase

from cravik.core.tests.test_documents import basket, document, line

OPEN = document(line(price={"kind": "open", "min": "5.00", "max": None}))


class QuoteCommandTest(SimpleTestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def file(self, name: str, content: object) -> str:
        path = self.folder / name
        path.write_text(content if isinstance(content, str) else json.dumps(content))
        return str(path)

    def answered(self, *arguments: str) -> tuple[int, str]:
        """The exit status, and what was written: to standard output, or as the error's one line."""
        out = StringIO()
        try:
            call_command("quote", *arguments, stdout=out)
        except SystemExit as left:
            return int(str(left.code)), out.getvalue()
        except CommandError as error:
            return error.returncode, str(error)
        return 0, out.getvalue()

    def quoted(self, offer: object, picked: object, *more: str) -> tuple[int, str]:
        return self.answered(self.file("offer.json", offer), self.file("basket.json", picked), *more)

    def test_one_quote(self) -> None:
        status, text = self.quoted(document(), basket())
        self.assertEqual((status, json.loads(text)["total"]), (0, "24.00"))

    def test_a_refused_basket_is_told_in_the_output(self) -> None:
        status, text = self.quoted(OPEN, basket(lines=[{"key": "kite", "amount": "4.99"}], code="GUST"))
        self.assertEqual(status, 1)
        self.assertEqual(
            [error["code"] for error in json.loads(text)["errors"]], ["amount_below_minimum", "code_unknown"]
        )
        self.assertEqual(json.loads(text)["errors"][0]["limit"], "5.00")
        status, text = self.quoted(OPEN, basket(), "--explain")
        self.assertEqual((status, text.strip()), (1, "Refused at lines: Enter an amount for “Kite”."))

    def test_what_cannot_be_read_is_one_clear_line(self) -> None:
        good = self.file("good.json", basket())
        for content, told in (
            ("{", "The document is no JSON"),
            (document(colour="red", title=""), "colour: “colour” is not known here."),
            ([], "valid dictionary"),
        ):
            with self.subTest(told):
                status, text = self.answered(self.file("bad.json", content), good)
                self.assertEqual((status, text.count("\n")), (2, 0))
                self.assertIn(told, text)
        for arguments in (
            (),
            (good,),
            (str(self.folder / "none.json"), good),
            (str(self.folder), good),
            (good, "--check", good),
        ):
            with self.subTest(arguments):
                status, text = self.answered(*arguments)
                self.assertEqual((status, text.count("\n")), (2, 0))

    def test_warnings_are_a_list_and_no_failure(self) -> None:
        sent = self.file("offer.json", document(line(ships=True)))
        status, text = self.answered("--check", sent)
        self.assertEqual((status, [warning["code"] for warning in json.loads(text)]), (0, ["delivery_not_charged"]))
        self.assertEqual(set(json.loads(text)[0]), {"code", "at", "message"})

    def test_a_batch_answers_every_line_and_goes_on(self) -> None:
        cases: list[dict[str, Any]] = [
            {"id": "good", "offer": document(), "basket": basket(), "why": "kept aside"},
            {"id": "refused", "offer": OPEN, "basket": basket()},
            {"id": "invalid", "offer": document(currency="EURO"), "basket": basket(on="today")},
        ]
        batch = self.file("cases.ndjson", "\n".join([*map(json.dumps, cases), "", "{", json.dumps(cases[0])]))
        status, text = self.answered("--batch", batch)
        rows = [json.loads(row) for row in text.splitlines()]
        self.assertEqual(status, 1)
        self.assertEqual([row["id"] for row in rows], ["good", "refused", "invalid", None, "good"])
        self.assertEqual(rows[0]["total"], "24.00")
        self.assertEqual(
            [[error["code"] for error in row["errors"]] for row in rows[1:4]],
            [["amount_missing"], ["invalid_document", "invalid_document"], ["invalid_document"]],
        )
        self.assertEqual([error["at"] for error in rows[2]["errors"]], ["currency", "on"])

    def test_as_a_process_of_its_own_which_asks_for_no_settings(self) -> None:
        good, bad = self.file("offer.json", document()), self.file("bad.json", "{")
        picked = self.file("basket.json", basket())
        for arguments, status in (((good, picked), 0), ((bad, picked), 2)):
            done = self.process(*arguments)
            self.assertEqual((done.returncode, len(done.stderr.splitlines())), (status, int(status == 2)))
        case = json.dumps({"id": 1, "offer": document(), "basket": basket()})
        done = self.process("--batch", "-", input=case)
        self.assertEqual((done.returncode, json.loads(done.stdout)["net"]), (0, "24.00"))

    def process(self, *arguments: str, **options: str) -> subprocess.CompletedProcess[str]:
        """The command where no other would start."""
        wrong = {name: value for name, value in os.environ.items() if name != "DJANGO_SETTINGS_MODULE"} | {"PORT": "-1"}
        line = [sys.executable, "manage.py", "quote", *arguments]
        return subprocess.run(line, cwd=settings.PROJECT_DIR, env=wrong, capture_output=True, text=True, **options)
