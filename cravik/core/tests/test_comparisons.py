"""Comparing rates, against published figures and by simulation."""

from __future__ import annotations

import random
from unittest import TestCase

from scipy.stats import studentized_range

from cravik.core.statistics.comparisons import chance, difference, discoveries, more_visits, verdict
from cravik.core.statistics.rates import conversion
from cravik.core.statistics.studentized_range import upper_range
from tests.looks import told_by_more, wrong_look


class ComparisonsTest(TestCase):
    def test_the_interval_of_a_difference_is_newcombes(self) -> None:
        """Table II of his paper, method 10."""
        for one, other, low, high in (
            ((56, 70), (48, 80), 0.0524, 0.3339),
            ((9, 10), (3, 10), 0.1705, 0.8090),
            ((6, 7), (2, 7), 0.0582, 0.8062),
            ((5, 56), (0, 29), -0.0381, 0.1926),
            ((0, 10), (0, 10), -0.2775, 0.2775),
            ((10, 10), (0, 10), 0.6075, 1.0),
        ):
            found = difference(conversion(*one), conversion(*other))
            self.assertEqual((round(found.low, 4), round(found.high, 4)), (low, high), (one, other))

    def test_discoveries_are_those_of_benjamini_and_hochberg(self) -> None:
        """The fifteen probabilities of their example, of which four stand."""
        chances = [0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344, 0.0459]
        chances += [0.3240, 0.4262, 0.5719, 0.6528, 0.7590, 1.0]
        self.assertEqual(discoveries(chances[::-1]), [False] * 11 + [True] * 4)
        self.assertEqual(discoveries([]), [])

    def test_the_score_test_is_the_square_root_of_chi_squared(self) -> None:
        """For 10 of 100 against 20 of 100 chi-squared is 3.9216, whose probability at one degree is 0.04767."""
        self.assertAlmostEqual(chance(conversion(10, 100), conversion(20, 100)), 0.04767, places=5)
        self.assertEqual(chance(conversion(0, 10), conversion(0, 10)), 1.0)
        self.assertEqual(chance(conversion(0, 0), conversion(5, 10)), 1.0)

    def test_the_range_is_that_of_the_published_tables(self) -> None:
        """Harter's table of the studentized range, 5 %, infinitely many degrees of freedom."""
        published = {2: 2.772, 3: 3.314, 4: 3.633, 6: 4.030, 8: 4.286, 12: 4.622, 15: 4.796, 20: 5.012}
        for count, value in published.items():
            self.assertAlmostEqual(upper_range(count), value, delta=0.0011, msg=str(count))
        for count in (2, 7, 20, 40, 100, 2000):
            self.assertAlmostEqual(upper_range(count), float(studentized_range.ppf(0.95, count, 1e6)), delta=0.001)

    def test_a_verdict_is_plain(self) -> None:
        said = {
            "better": verdict(conversion(60, 300), conversion(20, 300)),
            "worse": verdict(conversion(20, 300), conversion(60, 300)),
            "unclear": verdict(conversion(12, 100), conversion(20, 100)),
            "too few": verdict(conversion(3, 19), conversion(60, 300)),
        }
        self.assertEqual([each.says for each in said.values()], list(said))
        self.assertAlmostEqual(said["unclear"].more or 0, 460, delta=40)  # about 329 each, of which there are 200
        for first, others in (
            (conversion(10, 100), [conversion(10, 100)]),
            (conversion(1001, 10_000), [conversion(1000, 10_000)]),
            (conversion(11, 100), [conversion(10, 100), conversion(1, 100)]),
            (conversion(0, 50), [conversion(0, 90)]),
        ):
            self.assertIsNone(more_visits(first, others), "as good as equal")

    def test_no_more_pairs_are_told_apart_than_is_said(self) -> None:
        """A thousand pairs of spots that are alike: at most one in twenty is called better or worse, within chance."""
        chances = random.Random(10)
        wrong = 0
        for _ in range(1000):
            rate, of = chances.choice((0.03, 0.08, 0.2)), [chances.randint(40, 600) for _ in range(2)]
            pair = [conversion(sum(chances.random() < rate for _ in range(n)), n) for n in of]
            wrong += verdict(*pair).says in ("better", "worse")
        self.assertLessEqual(wrong, 50 + 3 * 7)  # three standard deviations of 1,000 draws at 5 %

    def test_looks_at_many_rows_are_as_seldom_wrong_as_is_said_and_its_visits_tell_as_often(self) -> None:
        """A sample of what `make proofs` holds to closer bounds."""
        chances = random.Random(11)
        for rows in (2, 10):
            for half in (1.0, 0.5):
                wrong = sum(wrong_look(chances, rows, 0.1, half) for _ in range(150))
                self.assertLessEqual(wrong, 7.5 + 3 * 2.7, (rows, half))
            told = sum(told_by_more(chances, rows) for _ in range(60))
            self.assertAlmostEqual(told / 60, 0.82, delta=0.15, msg=str(rows))
