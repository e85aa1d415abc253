"""Data of every version that has a number is carried over to this one while buyers pay, and can be gone back to."""

from __future__ import annotations

import sqlite3
import subprocess
import tarfile
import tempfile
import threading
import time
import unittest
from contextlib import closing, suppress
from pathlib import Path

from cravik import VERSION
from cravik.upkeep.archive.manifest import Copy, counts_of
from cravik.upkeep.make import version_of
from tests.faults.crowd import Crowd
from tests.faults.links import nothing_leaks
from tests.faults.test_killed_server import eventually
from tests.running import PROJECT, RunningApplication

VERSIONS = sorted((PROJECT / "tests" / "data" / "versions").glob("*.tar.gz"))
PATH = "/for/kite-mending/"
#: What a start changes by itself.
_OF_NO_MATTER = {
    "counter_countercard",
    "django_migrations",
    "django_content_type",
    "auth_permission",
    "django_tasks_db_dbtaskresult",
}

#: Orders, paid dues, versions and charges that the events and the ledger do not tell exactly once.
_UNTOLD = """
SELECT (SELECT count(*) FROM orders_order o WHERE 1 !=
        (SELECT count(*) FROM events_event e WHERE e.order_id = o.id AND e.kind = 'order.made'))
    + (SELECT count(*) FROM orders_order o WHERE
        (SELECT coalesce(sum(e.data ->> 'minor'), 0) FROM events_event e
         WHERE e.order_id = o.id AND e.kind = 'due.paid')
        != (SELECT coalesce(sum(m.amount_minor), 0) FROM payments_movement m WHERE m.checkout_id = o.checkout_id))
    + (SELECT count(*) FROM links_version d WHERE d.number IS NOT NULL AND 1 !=
        (SELECT count(*) FROM events_event e WHERE e.link_id = d.link_id AND e.kind = 'link.published'
         AND e.data ->> 'version' = d.number))
"""


def counts(database: Path) -> dict[str, dict[str, int]]:
    """Rows and sums of what was there."""
    with closing(sqlite3.connect(database)) as opened:
        found = counts_of(Copy(opened))
    return {table: counted for table, counted in found.items() if table not in _OF_NO_MATTER}


class UpgradeTest(unittest.TestCase):
    def folder_of(self, kept: Path) -> Path:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        with tarfile.open(kept) as tar:
            tar.extractall(folder, filter="data")
        return folder

    def assert_an_older_program_is_told_of(self, backup: Path, application: RunningApplication) -> None:
        kept = (application.data / "version").read_text()
        (application.data / "version").write_text("9.0.0\n")
        with self.assertRaises(subprocess.CalledProcessError) as refused:
            application.run("serve", "--port", str(application.port))
        self.assertEqual(refused.exception.returncode, 2)
        for said in ("version 9.0.0 of Cravik", f"this is {VERSION}", str(backup)):
            self.assertIn(said, refused.exception.stderr)
        (application.data / "version").write_text(kept)

    def test_figures_are_equal_and_the_way_back_is_kept_and_told(self) -> None:
        self.assertTrue(VERSIONS)
        for kept in VERSIONS:
            with self.subTest(kept.name):
                version = kept.name.removesuffix(".tar.gz")
                folder = self.folder_of(kept)
                self.assertEqual(version_of(folder), version)
                before = counts(folder / "cravik.sqlite3")
                with RunningApplication(folder) as application:
                    pass
                self.assertEqual(version_of(folder), VERSION)
                after = counts(folder / "cravik.sqlite3")
                for table, counted in before.items():
                    same = {name: after.get(table, {}).get(name) for name in counted if name in after.get(table, {})}
                    self.assertEqual(counted | same, counted, table)
                with closing(sqlite3.connect(folder / "cravik.sqlite3")) as opened:
                    self.assertEqual(opened.execute(_UNTOLD).fetchall(), [(0,)])
                backups = list((folder / "backups").glob(f"before-{VERSION}-was-{version}-*.tar.gz"))
                if version != VERSION:
                    (archive,) = backups
                    self.assert_an_older_program_is_told_of(archive, application)
                    application.run("restore", str(archive))
                    self.assertEqual(counts(folder / "cravik.sqlite3"), before)

    def test_buyers_meet_a_page_that_says_so_and_no_payment_is_lost(self) -> None:
        application = RunningApplication(self.folder_of(VERSIONS[0]))
        crowd = Crowd(application, [PATH], 4, 40)
        seen: list[int] = []
        words: list[str] = []

        def look() -> None:
            while not words or crowd.is_paying:
                with suppress(OSError):
                    status, page = application.get(PATH)
                    seen.append(status)
                    words.append(page if status == 503 else "")
                time.sleep(0.02)

        crowd.start()
        looking = threading.Thread(target=look)
        looking.start()
        application.start()
        self.addCleanup(application.__exit__, None, None, None)
        crowd.wait()
        looking.join()
        self.assertEqual(set(seen), {503, 200})
        self.assertEqual(seen, sorted(seen, reverse=True), "once it is open it stays open")
        self.assertIn("One moment, please", words[0])
        buyers = {email for (email,) in application.query("SELECT buyer_email FROM orders_order")}
        self.assertLessEqual(crowd.paid.keys(), buyers)
        self.assertGreater(len(crowd.paid), 10)
        self.assertTrue(eventually(lambda: nothing_leaks(application) == {}, 60), nothing_leaks(application))
