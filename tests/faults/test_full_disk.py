"""Nothing more can be written: pages are shown all the same, payments are refused in clear words, and nothing is lost.

No disk is filled: the kernel is told to let the application's processes write nothing (setrlimit(2), RLIMIT_FSIZE).
"""

from __future__ import annotations

import resource
import time
import unittest
from collections.abc import Iterator
from contextlib import contextmanager

from tests.faults.links import nothing_leaks
from tests.faults.test_killed_server import APPROVES, PAGE, eventually
from tests.running import RunningApplication


class FullDiskTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.application = RunningApplication.on_sample(cls.addClassCleanup)
        for _ in range(12):  # both processes have shown a page
            cls.application.get(PAGE)

    @contextmanager
    def full_disk(self) -> Iterator[None]:
        processes = [self.application.process.pid, *self.application.children()]
        before = {process: resource.prlimit(process, resource.RLIMIT_FSIZE) for process in processes}
        try:
            for process, (_, most) in before.items():
                resource.prlimit(process, resource.RLIMIT_FSIZE, (0, most))
            yield
        finally:
            for process, limits in before.items():
                resource.prlimit(process, resource.RLIMIT_FSIZE, limits)

    def count(self, table: str) -> int:
        return int(self.application.query(f"SELECT count(*) FROM {table}")[0][0])

    def test_pages_are_shown_payments_refused_and_all_goes_on_afterwards(self) -> None:
        form = self.application.filled_in_form(PAGE, APPROVES)
        tables = ("orders_order", "counter_countercharge", "payments_attempt", "checkout_checkout")
        before = [self.count(table) for table in tables]
        with self.full_disk():
            # Another link than before, whose visit would have to be written.
            begun = time.monotonic()
            status, page = self.application.get("/for/box-kite-hand-sewn/")
            self.assertEqual((status, "Box kite" in page), (200, True))
            self.assertLess(time.monotonic() - begun, 1.0)
            status, words = self.application.post(f"{PAGE}pay/", form)
            self.assertEqual(status, 503)
            self.assertIn("one page never charges twice", words)
            self.assertNotIn("Traceback", words)
        self.assertEqual([self.count(table) for table in tables], before)
        status, address = self.application.post(f"{PAGE}pay/", form)
        self.assertEqual(status, 303)
        self.assertIn("Thank you", self.application.get(address)[1])
        self.assertTrue(eventually(lambda: nothing_leaks(self.application) == {}), nothing_leaks(self.application))
        self.assertEqual(self.count("orders_order"), before[0] + 1)
