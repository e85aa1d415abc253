"""The shipped application, killed at the worst moments: no payment is lost, and none is made twice."""

from __future__ import annotations

import contextlib
import os
import signal
import stat
import subprocess
import threading
import time
import unittest
from collections.abc import Callable
from pathlib import Path

from tests.running import RunningApplication

APPROVES, DAWDLES, FALLS_SILENT = "9000000000000019", "9000000000002015", "9000000000002023"
PAGE = "/for/kite-repair/"


def eventually(what: Callable[[], bool], seconds: float = 20) -> bool:
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if what():
            return True
        time.sleep(0.1)
    return False


class KilledServerTest(unittest.TestCase):
    def setUp(self) -> None:
        self.application = RunningApplication.on_sample(self.addCleanup)
        self.orders = self.count("orders_order")
        self.charges = self.count("counter_countercharge", "outcome = 'approved'")

    def count(self, table: str, where: str = "1") -> int:
        return int(self.application.query(f"SELECT count(*) FROM {table} WHERE {where}")[0][0])

    def new(self) -> tuple[int, int]:
        """Orders, and charges at the counter, since the test began."""
        approved = self.count("counter_countercharge", "outcome = 'approved'")
        return self.count("orders_order") - self.orders, approved - self.charges

    def test_killed_before_the_charge_nothing_is_taken(self) -> None:
        form = self.application.filled_in_form(PAGE, DAWDLES)
        sender = threading.Thread(target=lambda: self.send_into_the_void(form))
        sender.start()
        self.assertTrue(eventually(lambda: self.count("payments_attempt", "state = 'pending'") == 1))
        self.application.kill_everything()
        sender.join()
        self.application.start()
        self.assertEqual(self.new(), (0, 0))
        self.assertEqual(self.count("payments_attempt", "state = 'void'"), 1)
        status, _ = self.application.post(f"{PAGE}pay/", self.application.filled_in_form(PAGE, APPROVES))
        self.assertEqual((status, self.new()), (303, (1, 1)))

    def test_killed_after_the_charge_the_order_is_made_at_the_next_start(self) -> None:
        form = self.application.filled_in_form(PAGE, FALLS_SILENT)
        status, confirmation = self.application.post(f"{PAGE}pay/", form)
        self.assertEqual((status, self.new()), (303, (0, 1)))
        self.application.kill_everything()
        self.application.start()
        self.assertEqual(self.new(), (1, 1))
        self.assertIn("Thank you, Maren", self.application.get(confirmation)[1])
        again = self.application.post(f"{PAGE}pay/", form)[1]
        self.assertEqual(again.partition("?")[0], confirmation.partition("?")[0])
        self.assertEqual(self.new(), (1, 1))
        self.assertTrue(
            eventually(
                lambda: self.count("mailroom_letter", "to_address = 'maren@dunes.example' AND state = 'sent'") == 1
            )
        )

    def test_what_is_killed_is_started_again_and_a_letter_is_sent_once(self) -> None:
        for pid in self.application.children():
            os.kill(pid, signal.SIGKILL)
        self.application.wait_until_healthy()
        status, _ = self.application.post(f"{PAGE}pay/", self.application.filled_in_form(PAGE, APPROVES))
        self.assertEqual((status, self.new()), (303, (1, 1)))
        sent = "to_address = 'maren@dunes.example' AND state = 'sent'"
        self.assertTrue(eventually(lambda: self.count("mailroom_letter", sent) == 1))

    def test_an_interrupt_ends_everything_that_was_started(self) -> None:
        # The first of them may answer before the others are there.
        self.assertTrue(eventually(lambda: len(self.application.children()) >= 3))
        children = self.application.children()
        self.application.stop()
        self.assertEqual(self.application.process.returncode, 0)
        self.assertTrue(eventually(lambda: not any(Path(f"/proc/{pid}").exists() for pid in children), 5))

    def test_a_killed_supervisor_takes_its_children_along(self) -> None:
        children = self.application.children()
        self.application.process.kill()
        self.application.process.wait()
        self.assertTrue(eventually(lambda: not any(Path(f"/proc/{pid}").exists() for pid in children)))
        self.application.start()
        self.assertEqual(self.application.get(PAGE)[0], 200)

    def test_a_second_one_on_the_same_folder_is_refused_and_the_folder_is_its_owners_alone(self) -> None:
        second = RunningApplication(self.application.data)
        with self.assertRaises(subprocess.CalledProcessError) as refused:
            second.run("serve", "--port", str(second.port))
        self.assertIn("Cravik already runs on the data folder", refused.exception.stderr)
        self.assertIn(f"process {self.application.process.pid}", refused.exception.stderr)
        for path in [self.application.data, *self.application.data.rglob("*")]:
            if not path.is_relative_to(self.application.data / "static"):
                self.assertEqual(stat.S_IMODE(path.stat().st_mode) & 0o077, 0, path)

    def send_into_the_void(self, form: dict[str, str]) -> None:
        with contextlib.suppress(OSError):  # the server goes away, as it is meant to
            self.application.post(f"{PAGE}pay/", form)
