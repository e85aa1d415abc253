"""The commands on back-ups, and what buyers are told while one is put in its place."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path
from typing import Any
from unittest import mock

from django.core.management import CommandError, call_command
from django.test import SimpleTestCase, override_settings

from cravik.upkeep.alone import hold_folder
from cravik.upkeep.archive.locking import Lock, key_in
from cravik.upkeep.archive.tests.base import ArchiveTestCase
from cravik.upkeep.meanwhile import application


class CommandsTest(ArchiveTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.elsewhere = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def run_command(self, *command: object, **options: object) -> tuple[str, str]:
        out, complaints = io.StringIO(), io.StringIO()
        call_command(*map(str, command), stdout=out, stderr=complaints, **options)
        return out.getvalue(), complaints.getvalue()

    def refused(self, *command: object, **options: object) -> str:
        with self.assertRaises(CommandError) as refused:
            self.run_command(*command, **options)
        return str(refused.exception)

    def test_from_a_back_up_to_its_place(self) -> None:
        said, found = self.run_command("backup")
        archive = Path(said.strip())
        self.assertIn("no order yet", found)
        self.assertIn("files/bbbb", found)
        self.assertIn("everything compared", found)
        said, _ = self.run_command("verify", archive)
        self.assertIn("was not there when it was taken", said)
        self.assertTrue(said.endswith("It is sound.\n"))
        with override_settings(DATA_DIR=self.elsewhere / "new"):
            said, _ = self.run_command("restore", archive)
            self.assertIn("so it is not there now", said)
            self.assertNotIn("What was there before", said)
            said, _ = self.run_command("restore", archive)
            self.assertIn("What was there before lies in", said)
            self.assertNotIn("another key", said)
            with mock.patch.dict("os.environ", CRAVIK_SECRET_KEY="of another make"):
                self.assertIn("says another key than the back-up has", self.run_command("restore", archive)[0])
            with hold_folder(self.elsewhere / "new"):
                self.assertIn("already runs", self.refused("restore", archive))

    def test_what_cannot_be_done_is_said_and_changes_nothing(self) -> None:
        archive = Path(self.run_command("backup")[0].strip())
        archive.write_bytes(archive.read_bytes()[:-40])
        self.assertIn("damaged or cut off", self.refused("verify", archive))
        with override_settings(DATA_DIR=self.elsewhere / "new"):
            self.assertIn("Nothing was changed.", self.refused("restore", archive))
            self.assertIn("There is no file", self.refused("restore", self.elsewhere / "nothing.tar.gz"))
        with override_settings(CRAVIK_BACKUPS=Path("/dev/null/backups")):
            self.assertIn("Check the disk", self.refused("backup"))

    def test_a_key_of_its_own_opens_what_it_locked(self) -> None:
        key = self.elsewhere / "key.txt"
        said, _ = self.run_command("make_backup_key", key)
        self.assertIn(f"CRAVIK_BACKUP_KEY_FILE={key}", said)
        self.assertIn("File exists", self.refused("make_backup_key", key))
        with override_settings(CRAVIK_BACKUP_LOCK=Lock(key=key_in(key))):
            archive = Path(self.run_command("backup")[0].strip())
        self.assertIn("is locked", self.refused("verify", archive))
        self.assertIn("It is sound.", self.run_command("verify", archive, key_file=key)[0])
        self.assertIn("holds no key", self.refused("verify", archive, key_file=Path(__file__)))
        self.assertIn("No such file", self.refused("verify", archive, key_file=self.elsewhere / "none"))


class MeanwhileTest(SimpleTestCase):
    def asked(self, method: str, path: str = "/for/kite/") -> tuple[str, dict[str, str], str]:
        answered: list[Any] = []
        body = application({"REQUEST_METHOD": method, "PATH_INFO": path}, lambda *said: answered.extend(said))
        return answered[0], dict(answered[1]), b"".join(body).decode()

    def test_whoever_looks_waits_and_whoever_sends_is_told_that_nothing_was_charged(self) -> None:
        status, headers, page = self.asked("GET")
        self.assertEqual((status, headers["Retry-After"]), ("503 Service Unavailable", "5"))
        self.assertIn('http-equiv="refresh"', page)
        _, _, page = self.asked("POST")
        self.assertNotIn("refresh", page)
        self.assertIn("nothing was charged by it", page)
        self.assertEqual(self.asked("HEAD")[2], "")
        self.assertEqual(self.asked("GET", "/healthy/")[2], "not yet\n")
