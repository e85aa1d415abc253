from __future__ import annotations

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.statistics.ladder import Ladder, Rung
from cravik.core.statistics.rates import conversion


class ConversionTest(unittest.TestCase):
    def test_bounds_of_known_cases(self) -> None:
        cases = [
            ((1, 10), 0.0178762, 0.4041500),
            ((40, 412), 0.0721101, 0.1295087),
            ((0, 20), 0.0, 0.1611252),
            ((20, 20), 0.8388748, 1.0),
            ((5, 10), 0.2365931, 0.7634069),
        ]
        for (happened, of), low, high in cases:
            with self.subTest((happened, of)):
                rate = conversion(happened, of)
                self.assertAlmostEqual(rate.low, low, 6)
                self.assertAlmostEqual(rate.high, high, 6)

    @given(st.integers(1, 10**5), st.data())
    def test_bounds_solve_wilsons_equation(self, of: int, data: st.DataObject) -> None:
        """They are the shares p at which (observed - p)^2 = z^2 p (1 - p) / n."""
        rate = conversion(data.draw(st.integers(0, of)), of)
        for bound in (rate.low, rate.high):
            distance = abs(rate.share - bound)
            self.assertAlmostEqual(distance, 1.959963984540054 * math.sqrt(bound * (1 - bound) / of), 6)

    @given(st.integers(0, 10**6), st.integers(0, 10**6))
    def test_the_share_lies_between_its_bounds(self, one: int, other: int) -> None:
        rate = conversion(min(one, other), max(one, other))
        self.assertTrue(0 <= rate.low <= rate.share + 1e-12 and rate.share - 1e-12 <= rate.high <= 1)

    def test_few_visits_tell_nothing_and_none_say_so(self) -> None:
        self.assertEqual([conversion(0, of).tells for of in (0, 19, 20)], [False, False, True])
        self.assertEqual((conversion(0, 0).low, conversion(0, 0).high), (0.0, 1.0))

    def test_more_than_all_is_no_rate(self) -> None:
        for happened, of in ((2, 1), (-1, 5)):
            with self.assertRaises(ValueError):
                conversion(happened, of)


class LadderTest(unittest.TestCase):
    @given(st.dictionaries(st.sampled_from(list(Rung)), st.integers(0, 1000)))
    def test_no_rung_is_reached_by_more_than_the_one_below(self, visits: dict[int, int]) -> None:
        ladder = Ladder.of_furthest(visits)
        self.assertTrue(ladder.opened >= ladder.started >= ladder.tried >= ladder.paid >= 0)
        self.assertEqual(ladder.opened, sum(visits.values()))
