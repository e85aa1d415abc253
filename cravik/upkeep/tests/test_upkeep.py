from __future__ import annotations

import fcntl
import json
import os
import signal
import socket
import sqlite3
import stat
import tempfile
import time
from contextlib import closing
from datetime import timedelta
from functools import partial
from pathlib import Path
from unittest import mock

from django.core.management import CommandError
from django.db import DatabaseError, OperationalError, connection, transaction
from django.test import SimpleTestCase, TestCase, TransactionTestCase
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from cravik import VERSION
from cravik.config.secret_key import secret_key_in
from cravik.people.models import Business
from cravik.ui.middleware import is_busy
from cravik.upkeep.make import (
    OfAnotherMake,
    digest_of_steps,
    digest_of_tables,
    known_schemas,
    refuse_another_make,
    version_of,
    write_version,
)
from cravik.upkeep.management.commands.serve import (
    address_at,
    listen_or_refuse,
    refuse_data_of_another_make,
    refuse_full_disk,
    refuse_without_public_address,
)
from cravik.upkeep.supervisor import WatchedProcess, take_back_unfinished_tasks
from cravik.upkeep.tasks import look_at_sizes
from tests.factories import make_business
from tools.schemas_of_data import MIGRATIONS, PROJECT, digests_of_migrations


class DataOfAnotherMakeTest(SimpleTestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.database = self.folder / "cravik.sqlite3"

    def made_with(self, *steps: tuple[str, str]) -> None:
        with closing(sqlite3.connect(self.database)) as database, database:
            database.execute("PRAGMA journal_mode=WAL")
            database.execute("CREATE TABLE django_migrations (id INTEGER PRIMARY KEY, app TEXT, name TEXT)")
            database.executemany("INSERT INTO django_migrations (app, name) VALUES (?, ?)", steps)

    def test_it_is_named_in_one_sentence_and_left_untouched(self) -> None:
        self.made_with(("links", "0001_initial"), ("links", "0002_item"))
        before = {path.name: path.read_bytes() for path in self.folder.iterdir()}
        sentence = "it knows the step links.0002_item, which this one does not have"
        with self.assertRaisesMessage(CommandError, sentence):
            refuse_data_of_another_make(self.database)
        self.assertEqual({path.name: path.read_bytes() for path in self.folder.iterdir()}, before)

    def test_ones_own_an_older_state_of_it_and_none_at_all_are_taken(self) -> None:
        known = {("links", "0001_initial"), ("links", "0002_more")}
        refuse_another_make(self.database, known)
        self.made_with(("links", "0001_initial"), ("somebody_elses", "0001_initial"))
        refuse_another_make(self.database, known)
        with self.assertRaises(OfAnotherMake):
            refuse_another_make(self.database, {("links", "0001_other")})


class VersionTest(TransactionTestCase):
    def test_a_migration_that_has_landed_is_never_edited(self) -> None:
        landed = json.loads(MIGRATIONS.read_text())
        present = digests_of_migrations()
        self.assertEqual({path: present.get(path) for path in landed}, landed)
        self.assertEqual(sorted(present), sorted(landed), "run `python -m tools.schemas_of_data`")

    def test_the_tables_are_those_that_are_noted_for_this_version(self) -> None:
        with closing(sqlite3.connect(connection.settings_dict["NAME"])) as database:
            steps = digest_of_steps(database.execute("SELECT app, name FROM django_migrations").fetchall())
            there = known_schemas()[steps]
            self.assertEqual(there, {"version": VERSION, "tables": digest_of_tables(database)})

    def test_a_table_that_is_not_what_its_steps_make_is_refused_with_both_versions(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "cravik.sqlite3"
            with (
                closing(sqlite3.connect(connection.settings_dict["NAME"])) as source,
                closing(sqlite3.connect(file)) as copy,
            ):
                source.backup(copy)
                known = set(copy.execute("SELECT app, name FROM django_migrations").fetchall())
            refuse_another_make(file, known)
            (Path(folder) / "version").write_text("0.1.9\n")
            (Path(folder) / "backups").mkdir()
            (Path(folder) / "backups" / "before-0.1.9-was-0.1.0-x.sqlite3").touch()
            with closing(sqlite3.connect(file)) as copy, copy:
                copy.execute("ALTER TABLE links_link ADD COLUMN shelf integer")
            with self.assertRaises(OfAnotherMake) as refused:
                refuse_another_make(file, known)
            said = str(refused.exception)
            for words in (
                "version 0.1.9",
                f"this is {VERSION}",
                "its tables are not those",
                "before-0.1.9-was-0.1.0-x",
            ):
                self.assertIn(words, said)

    def test_an_older_program_refuses_what_a_newer_one_served(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "cravik.sqlite3"
            file.touch()
            for version, refused in (
                ("9.0.0", True),
                (VERSION.rpartition(".")[0] + ".10", True),
                (VERSION, False),
                ("0.1.9", False),
                ("x", False),
            ):
                (Path(folder) / "version").write_text(version)
                with self.subTest(version):
                    try:
                        refuse_another_make(file, set())
                    except OfAnotherMake as other:
                        self.assertIn(f"version {version} of Cravik, and this is {VERSION}", str(other))
                        self.assertTrue(refused)
                    else:
                        self.assertFalse(refused)

    def test_the_version_stands_in_one_place(self) -> None:
        self.assertIn(f"## {VERSION}", (PROJECT / "CHANGELOG.md").read_text())
        with tempfile.TemporaryDirectory() as folder:
            self.assertEqual(version_of(Path(folder)), "")
            write_version(Path(folder))
            self.assertEqual(version_of(Path(folder)), VERSION)

    def test_only_a_held_database_is_busy(self) -> None:
        for said, busy in (
            ("database is locked", True),
            ("the queue of writers did not move for 10 seconds", True),
            ("database or disk is full", True),
            ("no such column: links_link.shelf", False),
            ("no such table: x", False),
        ):
            self.assertIs(is_busy(OperationalError(said)), busy, said)
        self.assertFalse(is_busy(DatabaseError("malformed")))


class SecretKeyTest(TestCase):
    def test_only_what_serves_makes_one(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "secret_key"
            self.assertNotEqual(secret_key_in(path, may_be_made=False), secret_key_in(path, may_be_made=False))
            self.assertFalse(path.exists())

    def test_it_is_made_once_and_is_the_owners_alone(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "data" / "secret_key"
            key = secret_key_in(path)
            self.assertGreater(len(key), 60)
            self.assertEqual(secret_key_in(path), key)
            self.assertEqual(stat.S_IMODE(path.stat().st_mode), 0o600)
            self.assertEqual(list(path.parent.iterdir()), [path])


class TaskTest(TestCase):
    def test_the_database_knows_how_much_there_is_and_its_tables_are_still_this_versions(self) -> None:
        make_business()
        before = digest_of_tables(connection.connection)
        look_at_sizes.call()
        with connection.cursor() as cursor:
            cursor.execute("SELECT stat FROM sqlite_stat1 WHERE tbl = 'setup_business'")
            self.assertTrue(cursor.fetchall())
        self.assertEqual(digest_of_tables(connection.connection), before)

    def test_what_a_killed_worker_left_is_taken_back(self) -> None:
        def running(minutes: int) -> DBTaskResult:
            started = timezone.now() - timedelta(minutes=minutes)
            return DBTaskResult.objects.create(
                task_path="cravik.mailroom.tasks.deliver_waiting_letters",
                args_kwargs={"args": [], "kwargs": {}},
                backend_name="default",
                status="RUNNING",
                started_at=started,
                worker_ids=["gone"],
            )

        old, fresh = running(11), running(1)
        self.assertEqual(take_back_unfinished_tasks(timedelta(minutes=10)), 1)
        old.refresh_from_db()
        fresh.refresh_from_db()
        self.assertEqual((old.status, fresh.status), ("READY", "RUNNING"))


class WatchedProcessTest(TransactionTestCase):
    def test_what_dies_is_started_again_and_ends_when_told(self) -> None:
        watched = WatchedProcess("sleeper", partial(time.sleep, 60))
        watched.start()
        self.addCleanup(watched.stop)
        first = watched.pid
        os.kill(first, signal.SIGKILL)
        os.waitid(os.P_PID, first, os.WEXITED | os.WNOWAIT)
        with self.assertLogs("cravik.supervisor", "WARNING"):
            watched.keep_alive()
        self.assertIsNone(watched.pid, "it waits a moment first")
        watched._not_before = 0.0
        watched.keep_alive()
        second = watched.pid
        self.assertNotEqual(second, first)
        os.kill(second, 0)
        watched.stop()
        with self.assertRaises(ProcessLookupError):
            os.kill(second, 0)


class ServeTest(SimpleTestCase):
    def test_an_address_that_a_browser_can_ask(self) -> None:
        for host, address in (("127.0.0.1", "localhost"), ("::1", "[::1]"), ("192.168.0.7", "192.168.0.7")):
            self.assertEqual(address_at(host, 8000), f"http://{address}:8000")
        for everywhere in ("0.0.0.0", "::"):
            with self.assertRaisesMessage(CommandError, "Say it, as in CRAVIK_PUBLIC_ADDRESS="):
                refuse_without_public_address(everywhere)

    def test_a_full_disk_is_told_at_once(self) -> None:
        full = mock.patch("shutil.disk_usage", return_value=mock.Mock(free=7_000_000))
        with full, self.assertRaisesMessage(CommandError, "has 7 MB left on its disk; 50 MB are needed"):
            refuse_full_disk(Path("/tmp"))

    def test_a_taken_port_is_told_at_once(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            with self.assertRaisesMessage(CommandError, "Choose another port"):
                listen_or_refuse(*taken.getsockname())


class QueueTest(TransactionTestCase):
    """Writers stand in line on a lock beside the database, for no longer than its timeout."""

    def test_a_queue_that_does_not_move_is_told_as_a_busy_database(self) -> None:
        with Path(f"{connection.settings_dict['NAME']}-queue").open("w") as file:
            fcntl.flock(file, fcntl.LOCK_EX)
            options = connection.settings_dict["OPTIONS"] | {"timeout": 0.05}
            changed = mock.patch.dict(connection.settings_dict, {"OPTIONS": options})
            with changed, self.assertRaisesMessage(OperationalError, "did not move"), transaction.atomic():
                make_business()
        make_business()
        self.assertEqual(Business.objects.count(), 1)

    def test_a_transaction_that_is_undone_leaves_the_line(self) -> None:
        with self.assertRaises(ZeroDivisionError), transaction.atomic():
            make_business()
            1 / 0  # noqa: B018
        self.assertIsNone(connection._leave)
        with transaction.atomic():
            self.assertIsNotNone(connection._leave)
        self.assertIsNone(connection._leave)
