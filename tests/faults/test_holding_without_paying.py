"""Many silent cards at the same instant from one network: they keep no more than a few places, and others can pay."""

from __future__ import annotations

import unittest
from collections import Counter
from concurrent.futures import ThreadPoolExecutor

from tests.faults.links import import_published, tally
from tests.running import RunningApplication

NEVER_ANSWERS = "9000000000003039"


class HoldingWithoutPayingTest(unittest.TestCase):
    def test_twenty_at_once_hold_six_places_at_most(self) -> None:
        application = RunningApplication.on_sample(self.addCleanup)
        path = import_published(application, "A small class", limits={"orders": 12})
        forms = [application.filled_in_form(path, NEVER_ANSWERS, f"hold-{number}@held.example") for number in range(20)]
        with ThreadPoolExecutor(20) as senders:
            answers = Counter(senders.map(lambda form: application.post(f"{path}pay/", form)[0], forms))
        self.assertLessEqual(answers[303], 6, answers)
        self.assertEqual(answers[303] + answers[409], 20, answers)
        self.assertEqual(tally(application, path), (0, answers[303]))
        charges = "SELECT count(*) FROM counter_countercharge WHERE outcome = 'open'"
        self.assertEqual(application.query(charges)[0][0], answers[303], "what is not held can't be charged later")
