"""Something else keeps the database from being written: buyers still see their page, within a second."""

from __future__ import annotations

import fcntl
import sqlite3
import time
import unittest
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from tests.running import RunningApplication

PAGE = "/for/tail-ribbon-five-metres/"


class HeldDatabaseTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.application = RunningApplication.on_sample(cls.addClassCleanup)
        cls.database = cls.application.data / "cravik.sqlite3"
        for _ in range(12):  # both processes have shown a page
            cls.application.get(PAGE)

    @contextmanager
    def writing_without_end(self) -> Iterator[None]:
        with closing(sqlite3.connect(self.database, timeout=30, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            yield
            other.execute("ROLLBACK")

    @contextmanager
    def first_in_line_without_end(self) -> Iterator[None]:
        with Path(f"{self.database}-queue").open("w") as queue:
            fcntl.flock(queue, fcntl.LOCK_EX)
            yield

    def test_the_page_is_shown_without_a_visit_and_later_ones_are_counted(self) -> None:
        count = "SELECT count(*) FROM journal_visit"
        for held in (self.writing_without_end, self.first_in_line_without_end):
            with self.subTest(held.__name__):
                self.application.write("DELETE FROM journal_visit")
                took = []
                with held():
                    for _ in range(5):
                        began = time.monotonic()
                        status, page = self.application.get(PAGE)
                        took.append(time.monotonic() - began)
                        self.assertEqual((status, 'name="page"' in page), (200, True))
                # The wait is under a second; a machine that is busy may add to one of them, never ten, the timeout.
                self.assertLess(min(took), 1.2)
                self.assertLess(max(took), 5)
                self.assertEqual(self.application.query(count), [(0,)])
                # Whoever was held up writes first, the worker too; a visit that still meets them isn't written either.
                for _ in range(10):
                    self.assertEqual(self.application.get(PAGE)[0], 200)
                    if self.application.query(count) != [(0,)]:
                        break
                self.assertEqual(self.application.query(count), [(1,)])
