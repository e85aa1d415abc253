"""The product-limit estimate, held to published figures and to a simulation."""

from __future__ import annotations

import random
import unittest

from cravik.core.graphics.steps import steps_picture
from cravik.core.statistics.staying import Stay, staying

#: Weeks of remission under 6-MP (Freireich et al., Blood 21, 1963), with the shares and Greenwood's standard errors
#: that textbooks print: those of 21 patients, of whom nine relapsed.
_RELAPSED = (6, 6, 6, 7, 10, 13, 16, 22, 23)
_CENSORED = (6, 9, 10, 11, 17, 19, 20, 25, 32, 32, 34, 35)
_PRINTED = {6: 0.857, 7: 0.807, 10: 0.753, 13: 0.690, 16: 0.627, 22: 0.538, 23: 0.448}
#: The 95 % bounds by log(−log), as programs of statistics print them for the same patients.
_BOUNDS = {6: (0.620, 0.952), 7: (0.563, 0.923), 10: (0.503, 0.889), 13: (0.432, 0.849), 16: (0.368, 0.805)}
_BOUNDS |= {22: (0.268, 0.747), 23: (0.188, 0.680)}


class StayingTest(unittest.TestCase):
    def setUp(self) -> None:
        self.found = staying([Stay(each, True) for each in _RELAPSED] + [Stay(each, False) for each in _CENSORED])

    def test_the_shares_that_textbooks_print(self) -> None:
        self.assertEqual({step.days: round(step.share, 3) for step in self.found.steps}, _PRINTED)
        self.assertEqual([step.at_risk for step in self.found.steps], [21, 17, 15, 12, 11, 7, 6])
        self.assertEqual((self.found.half, self.found.begun, self.found.ended), (23, 21, 9))

    def test_the_bounds_that_programs_print(self) -> None:
        for step in self.found.steps:
            low, high = _BOUNDS[step.days]
            self.assertAlmostEqual(step.low, low, delta=0.0015)
            self.assertAlmostEqual(step.high, high, delta=0.0015)

    def test_nobody_and_few_tell_nothing(self) -> None:
        self.assertFalse(staying([]).tells)
        self.assertFalse(staying([Stay(30, True)] * 19).tells)
        self.assertFalse(staying([Stay(30, False)] * 500).tells, "nobody has ended")
        self.assertEqual(staying([Stay(30, False)]).at(400).share, 1.0)
        self.assertEqual(staying([Stay(30, True)]).at(30).share, 0.0)

    def test_the_true_share_lies_within_its_bounds_about_as_often_as_is_said(self) -> None:
        """Ends that come with the same chance each month, seen for a year at most: by simulation, of 400 crowds."""
        chance, within, of = random.Random(35), 0, 400
        for _ in range(of):
            stays = []
            for _ in range(60):
                ends, seen = chance.expovariate(1 / 300), chance.uniform(0, 400)
                stays.append(Stay(int(min(ends, seen)), ends <= seen))
            step = staying(stays).at(120)
            within += step.low <= 2.718281828 ** (-121 / 300) <= step.high
        self.assertTrue(0.92 <= within / of <= 0.98, within / of)

    def test_its_picture_stays_inside(self) -> None:
        picture = steps_picture(self.found, "Staying", "x", 760)
        for mark in picture.marks:
            for x, y in getattr(mark, "points", ((getattr(mark, "x", 0), getattr(mark, "y", 0)),)):
                self.assertTrue(0 <= x <= picture.width and 0 <= y <= picture.height, mark)
