"""An offer said in one line: what the sentence says is read back, what people type is understood or refused kindly."""

from __future__ import annotations

import json
import time
import unittest
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.documents.offer import read_offer
from cravik.core.english import day_words
from cravik.core.errors import CoreError
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.partial_offer import as_partial
from cravik.core.tests.offers import offers
from cravik.core.tests.parsing import terms
from cravik.core.text.parsing.reading import MAX_LENGTH, ParsedLine, parse_line
from cravik.core.text.sentence import NAMED_SINGLY, sentence, whole_sentence

DATA = Path(__file__).parent / "data"
WORDS = (
    "48 €9 10.50 10,50 1,200 ¥4 kite “Kite, 2 m” for a in or and , ; : . up to 3 from 10 pieces each instead of 30"
    " red blue only free what you want suggest 10, 20 paid once monthly every 2 weeks 6 instalments 30 % now and the"
    " rest after 9 days as the buyer picks: at sent tax included until (Level) (+4) if wanted 12 a month of packs"
).split(" ")


def worked_offers() -> list[Offer]:
    found = []
    for name in ("worked-quotes.ndjson", "worked-quotes-2.ndjson", "worked-quotes-3.ndjson"):
        for text in (DATA / name).read_text().splitlines():
            try:
                found.append(read_offer(json.loads(text)["offer"]))
            except CoreError:
                continue
    return found


def spoken(offer: Offer) -> Any:
    """The offer's terms without what its sentence only counts: more than four levels, breaks or options."""
    partial = as_partial(offer)
    lines = []
    for line in partial.lines:
        parts = next(
            (getattr(line.price, name) for name in ("levels", "breaks", "bundles") if hasattr(line.price, name)), ()
        )
        few = tuple(group for group in line.choices if len(group.options) <= NAMED_SINGLY)
        lines.append(replace(line, choices=few, price=None if len(parts) > NAMED_SINGLY else line.price))
    return terms(replace(partial, lines=tuple(lines)))


class SaidTest(unittest.TestCase):
    maxDiff = None

    def test_every_worked_offer_is_read_back_from_its_sentence(self) -> None:
        read = 0
        for offer in worked_offers():
            whole, usual = whole_sentence(offer), "".join(phrase.text for phrase in sentence(offer))
            with self.subTest(whole):
                parsed = parse_line(whole, offer.currency)
                self.assertEqual((parsed.missed, parsed.currency), ((), offer.currency))
                self.assertEqual(terms(parsed.offer), terms(as_partial(offer)))
                counted = parse_line(usual, offer.currency)
                self.assertEqual((counted.missed, terms(counted.offer)), ((), spoken(offer)))
                self.assertEqual(bool(counted.unsaid), whole != usual)
                read += 1
        self.assertGreater(read, 300)

    @given(offers())
    def test_any_offer_is_read_back_from_its_sentence(self, offer: Offer) -> None:
        parsed = parse_line(whole_sentence(offer), offer.currency)
        self.assertEqual((parsed.missed, terms(parsed.offer)), ((), terms(as_partial(offer))))

    def test_the_day_of_a_rest_is_read_back_in_every_month(self) -> None:
        for month in range(1, 13):
            words = day_words(date(2027, month, 9))
            with self.subTest(words):
                parsed = parse_line(f"€30.00 each for Kites, paid €10.00 now and the rest on {words}", "EUR")
                plan: Any = parsed.offer.plan
                self.assertEqual((parsed.missed, plan.rest_on), ((), date(2027, month, 9)))

    def test_lines_as_people_type_them(self) -> None:
        rows = [json.loads(text) for text in (DATA / "lines.ndjson").read_text().splitlines()]
        self.assertGreaterEqual(len(rows), 200)
        for row in rows:
            with self.subTest(row["typed"]):
                parsed = parse_line(row["typed"], row["currency"])
                got = {
                    "says": "".join(phrase.text for phrase in sentence(parsed.offer)),
                    "missed": list(parsed.missed),
                    "why": parsed.why,
                    "elsewhere": list(parsed.elsewhere),
                    "read_in": parsed.currency,
                }
                usual = {"missed": [], "why": "", "elsewhere": [], "read_in": row["currency"]}
                expected = usual | {name: part for name, part in row.items() if name not in ("typed", "currency")}
                self.assertEqual(got, expected)

    def test_what_is_suggested_is_read_though_the_sentence_does_not_tell_it(self) -> None:
        price: Any = (
            parse_line("fund, what you want from 5, suggest 10, 20 or 50, starting at 20", "EUR").offer.lines[0].price
        )
        self.assertEqual([each.major for each in price.suggested], ["10.00", "20.00", "50.00"])
        self.assertEqual(price.start.major, "20.00")

    @given(st.lists(st.sampled_from(WORDS), max_size=40).map(" ".join) | st.text(max_size=120))
    def test_noise_is_read_or_named_and_breaks_nothing(self, text: str) -> None:
        parsed = parse_line(text, "EUR")
        self.assertIsInstance(parsed, ParsedLine)
        self.assert_nothing_is_guessed(text, parsed)

    def assert_nothing_is_guessed(self, text: str, parsed: ParsedLine) -> None:
        """Every figure of what was read stands in the text, but for those that mean one, none, or once a month."""
        typed = set(filter(str.isdigit, text)) | set("01")
        if all(sign.isascii() for sign in text if sign.isdigit()):
            figures = set(filter(str.isdigit, "".join(phrase.text for phrase in sentence(parsed.offer))))
            self.assertLessEqual(figures, typed)
        for piece in parsed.missed:
            self.assertTrue(piece == "" or piece.split(" ")[0] in " ".join(text.replace("\u00a0", " ").split()))

    def test_what_is_too_long_or_winding_is_refused_at_once(self) -> None:
        parsed = parse_line("48 for a kite, " * MAX_LENGTH, "EUR")
        self.assertIn("longer than", parsed.why)
        options = ", ".join(f"o{number}" for number in range(600))
        winding = (
            f"48 for kite in {options} or z",
            "a in b or c, up to 3 and " * 150,
            "48 for a or (4 more) in " * 150,
        )
        for text in winding:
            begun = time.perf_counter()
            self.assertTrue(parse_line(text, "EUR").missed)
            self.assertLess(time.perf_counter() - begun, 5)

    def test_the_most_that_an_offer_can_have_is_read(self) -> None:
        groups = [", ".join(f"{name} {number}" for number in range(23)) + f" or {name} 23" for name in "ABCD"]
        parsed = parse_line(f"48 for a kite in {' and in '.join(groups)}, up to 3", "EUR")
        self.assertEqual([len(group.options) for group in parsed.offer.lines[0].choices], [24] * 4)
        things = " and ".join(f"{number} for thing {chr(97 + number)}x" for number in range(1, 21))
        self.assertEqual(len(parse_line(f"All: {things}", "EUR").offer.lines), 20)
