"""Back-ups while buyers pay and everything is killed: none is unsound, and none lacks what was confirmed before it."""

from __future__ import annotations

import random
import sqlite3
import subprocess
import tempfile
import time
import unittest
from contextlib import closing
from pathlib import Path

from tests.faults.crowd import Crowd
from tests.faults.links import import_published
from tests.running import RunningApplication

BACKUPS, KILLS, BUYERS, PAYMENTS = 20, 8, 5, 2_000


class BackupsUnderFireTest(unittest.TestCase):
    def test_each_is_sound_and_holds_what_was_confirmed_before_it(self) -> None:
        application = RunningApplication.on_sample(self.addCleanup)
        before = {email for (email,) in application.query("SELECT buyer_email FROM orders_order")}
        crowd = Crowd(application, [import_published(application, "Under fire")], BUYERS, PAYMENTS)
        crowd.start()
        chance = random.Random(29)
        taken: list[tuple[Path, float]] = []
        cut_off = 0
        while len(taken) < BACKUPS:
            begun = time.time()
            backing_up = application.begin("backup")
            if cut_off < KILLS and chance.random() < 0.4:
                time.sleep(chance.uniform(0.2, 4))
                backing_up.kill()
                application.kill_everything()
                application.start()
                cut_off += 1
            said = backing_up.communicate()[0]
            if backing_up.returncode == 0:
                taken.append((Path(said.strip()), begun))
        crowd.stop()
        print(f"{len(taken)} back-ups, {cut_off} kills, {len(crowd.paid)} payments confirmed")
        self.assertGreater(len(crowd.paid), 100)
        self.assertEqual(cut_off, KILLS)
        for archive, begun in taken:
            with self.subTest(archive.name), tempfile.TemporaryDirectory() as empty:
                elsewhere = RunningApplication(empty)
                elsewhere.run("verify", str(archive))
                elsewhere.run("restore", str(archive))
                with closing(sqlite3.connect(Path(empty) / "cravik.sqlite3")) as database:
                    there = {email for (email,) in database.execute("SELECT buyer_email FROM orders_order")}
                    missing = (before | crowd.paid_before(begun)) - there
                    self.assertEqual(missing, set())
                for folder in ("pictures", "files"):
                    kept = {path.name: path.read_bytes() for path in (application.data / folder).iterdir()}
                    restored = {path.name: path.read_bytes() for path in (Path(empty) / folder).iterdir()}
                    self.assertEqual(restored, kept)
        with self.assertRaises(subprocess.CalledProcessError):
            application.run("restore", str(taken[0][0]))  # it runs
