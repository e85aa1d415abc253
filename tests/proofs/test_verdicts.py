"""Verdicts on rates, by simulation."""

from __future__ import annotations

import random
from math import sqrt
from unittest import TestCase

from tests.looks import told_by_more, wrong_look

LOOKS, PROMISES = 1500, 500


class VerdictsTest(TestCase):
    def test_one_look_in_twenty_at_most_is_wrong(self) -> None:
        chances, allowed = random.Random(1), 0.05 + 3 * sqrt(0.05 * 0.95 / LOOKS)
        for rows in (2, 5, 10, 20):
            for rate in (0.02, 0.1, 0.3):
                for half in (1.0, 0.5):
                    wrong = sum(wrong_look(chances, rows, rate, half) for _ in range(LOOKS)) / LOOKS
                    print(f"{rows} rows at {rate:.0%}, {'equal' if half == 1 else 'half unequal'}: {wrong:.1%} wrong")
                    self.assertLessEqual(wrong, allowed)

    def test_so_many_visits_more_tell_in_75_to_90_of_100(self) -> None:
        chances = random.Random(2)
        for rows in (2, 5, 10, 20):
            told = sum(told_by_more(chances, rows) for _ in range(PROMISES)) / PROMISES
            print(f"{rows} rows: told in {told:.1%}")
            self.assertTrue(0.75 <= told <= 0.9, told)
