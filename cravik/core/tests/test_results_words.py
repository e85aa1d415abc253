"""What results say first: every case of it, with what is said."""

from __future__ import annotations

import re
from unittest import TestCase

from cravik.core.pricing.money import Money
from cravik.core.statistics.rates import conversion
from cravik.core.text.results_words import Noun, Standing, leading_words

TRIES = Noun("try", "tries")


def row(name: str, paid: int, of: int, *money: str) -> Standing:
    sums = (each.split() for each in money)
    return Standing(name, conversion(paid, of), tuple(Money.parse(amount, code) for amount, code in sums))


class SentencesTest(TestCase):
    def said(self, *rows: Standing, **how: object) -> str:
        words = "".join(piece.text for piece in leading_words(rows, "EUR", **how))  # type: ignore[arg-type]
        return re.sub(r"likely between [\d.]+ % and [\d.]+ %", "likely …", words.replace("\N{NO-BREAK SPACE}", " "))

    def test_the_table_of_what_is_said(self) -> None:
        over = {"is_over": True}
        for rows, how, words in (
            ((), {}, "Nobody came in these days."),
            ((row("A", 0, 0),), {}, "Nobody came in these days."),
            ((), {"noun": TRIES}, "No tries in these days."),
            # few
            ((row("A", 3, 8),), {}, "8 visits so far: too few to tell. A rate is shown from 20 visits on."),
            ((row("A", 1, 1),), {}, "1 visit so far: too few to tell. A rate is shown from 20 visits on."),
            ((row("A", 3, 8),), over, "8 visits: too few to tell. A rate is shown from 20 visits on."),
            (
                tuple(row(name, 1, 14) for name in "ABCDEF"),
                {},
                "84 visits so far, but fewer than 20 each: too few to tell. A rate is shown from 20 visits on.",
            ),
            # one
            ((row("A", 5, 50),), {}, "A converts 10.0 % of 50 visits, likely …."),
            ((row("A", 5, 50, "24.00 EUR"),), {}, "A converts 10.0 % of 50 visits, likely …. It brought €24.00."),
            ((row("A", 0, 25),), {}, "None of the 25 visits ended in a payment so far."),
            ((row("A", 0, 25),), over, "None of the 25 visits ended in a payment."),
            ((row("A", 50, 50),), {}, "A converts 100.0 % of 50 visits, likely …."),
            ((row("A", 5, 50), row("B", 3, 8)), {}, "A converts 10.0 % of 50 visits, likely …."),
            # nobody paid
            ((row("A", 0, 60), row("B", 0, 85)), {}, "None of the 145 visits ended in a payment so far."),
            (
                (row("A", 0, 60), row("B", 2, 8)),
                {},
                "None of those with 20 visits or more has a payment so far, of 60 visits; the others have too few for a"
                " rate.",
            ),
            # level
            ((row("A", 5, 100), row("B", 10, 200)), {}, "A and B convert alike so far: 5.0 %."),
            ((row("A", 5, 100), row("B", 10, 200)), over, "A and B convert alike: 5.0 %."),
            (
                (row("A", 10, 50), row("B", 10, 50), row("C", 1, 50)),
                {},
                "A and B are ahead of the others, and convert alike so far: 20.0 %.",
            ),
            (tuple(row(name, 5, 50) for name in "ABCDE"), {}, "A and 4 others convert alike so far: 10.0 %."),
            # better, and not certain
            ((row("A", 60, 300), row("B", 20, 300)), {}, "A converts best: 20.0 % of 300 visits, likely …."),
            (
                (row("A", 12, 100), row("B", 20, 100)),
                {},
                "B leads with 20.0 % of 100 visits, likely …, but is not clearly ahead of A yet."
                " About N more visits in all are needed to tell, if the rates stay as they are.",
            ),
            (
                (row("A", 12, 100), row("B", 20, 100)),
                over,
                "B leads with 20.0 % of 100 visits, likely …, but is not clearly ahead of A.",
            ),
            (
                (row("A", 101, 1000), row("B", 100, 1000)),
                {},
                "A leads with 10.1 % of 1,000 visits, likely …, but is not clearly ahead of B yet.",
            ),
            (
                (row("A", 60, 300), row("B", 20, 300), row("C", 2, 20)),
                {},
                "A leads with 20.0 % of 300 visits, likely …, but is not clearly ahead of C yet."
                " About N more visits in all are needed to tell, if the rates stay as they are.",
            ),
            (
                (row("A", 10, 50), *(row(name, 9, 50) for name in "BCDE")),
                over,
                "A leads with 20.0 % of 50 visits, likely …, but is not clearly ahead of B and 3 others.",
            ),
            # money
            (
                (row("A", 60, 300, "5.00 EUR"), row("B", 20, 300, "5.00 EUR")),
                {},
                "A converts best: 20.0 % of 300 visits, likely …. A and B bring most money: €5.00 each.",
            ),
            (
                (row("A", 60, 300, "0.50 EUR"), row("B", 20, 300, "50000 JPY")),
                {},
                "A converts best: 20.0 % of 300 visits, likely …. It brings most money in EUR, too: €0.50."
                " B brings most money in JPY: ¥50,000.",
            ),
            (
                (row("A", 5, 50, "0.50 EUR", "50000 JPY"),),
                {},
                "A converts 10.0 % of 50 visits, likely …. It brought €0.50 and ¥50,000.",
            ),
            ((row("A", 3, 8, "-4.00 EUR"),), over, "8 visits: too few to tell. A rate is shown from 20 visits on."),
            (
                (row("A", 3, 8, "4.00 EUR"), row("B", 3, 8)),
                over,
                "16 visits, but fewer than 20 each: too few to tell. A rate is shown from 20 visits on."
                " A brings most money: €4.00.",
            ),
            # a crowd that does not pay
            (
                (row("A", 60, 300), row("B", 0, 900)),
                {},
                "A converts best: 20.0 % of 300 visits, likely …. B has the most visits, 900, but nobody paid.",
            ),
            (
                (row("A", 60, 300), row("B", 9, 900)),
                {},
                "A converts best: 20.0 % of 300 visits, likely …."
                " B has the most visits, 900, but few of them pay: 1.0 %.",
            ),
        ):
            with self.subTest(words):
                self.assertEqual(re.sub(r"About [\d,]+ more", "About N more", self.said(*rows, **how)), words)

    def test_only_what_can_be_told_is_called_best_however_many_rows(self) -> None:
        for many in (2, 5, 20):
            rows = [row("First", 30, 150), *(row(f"R{number}", 8, 100) for number in range(many - 1))]
            best = "converts best" in self.said(*rows)
            self.assertIs(best, many == 2, many)
