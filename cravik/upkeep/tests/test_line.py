"""Writers stand in one line, within a process and between processes, and leave it on every path."""

from __future__ import annotations

import fcntl
import tempfile
import threading
import time
import unittest
from pathlib import Path

from django.db import OperationalError

from cravik.upkeep.queued_sqlite.line import stand_in_line


class LineTest(unittest.TestCase):
    def setUp(self) -> None:
        self.name = str(Path(self.enterContext(tempfile.TemporaryDirectory())) / "data")

    def test_one_after_the_other_however_many_threads(self) -> None:
        inside, most, done = 0, 0, 0

        def write() -> None:
            nonlocal inside, most, done
            for _ in range(20):
                leave = stand_in_line(self.name, 10)
                inside += 1
                most = max(most, inside)
                time.sleep(0.0002)
                inside -= 1
                done += 1
                leave()

        threads = [threading.Thread(target=write) for _ in range(8)]
        for each in threads:
            each.start()
        for each in threads:
            each.join()
        self.assertEqual((most, done), (1, 160))

    def test_whoever_gives_up_behind_another_thread_holds_up_nobody(self) -> None:
        leave = stand_in_line(self.name, 1)
        self.give_up_in_time()
        leave()
        stand_in_line(self.name, 0.05)()

    def test_whoever_gives_up_behind_another_process_holds_up_nobody(self) -> None:
        with Path(f"{self.name}-queue").open("w") as other:
            fcntl.flock(other, fcntl.LOCK_EX)
            self.give_up_in_time()
            self.give_up_in_time()
        stand_in_line(self.name, 0.05)()

    def test_a_line_that_cannot_be_opened_holds_up_nobody_either(self) -> None:
        for _ in range(2):
            with self.assertRaises(FileNotFoundError):
                stand_in_line(f"{self.name}/none/data", 0.05)

    def give_up_in_time(self) -> None:
        begun = time.monotonic()
        with self.assertRaisesRegex(OperationalError, "database is locked"):
            stand_in_line(self.name, 0.05)
        self.assertLess(time.monotonic() - begun, 2)
