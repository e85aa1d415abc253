"""Offers said in one line, as people type them: understood, or asked about, and never a sum that was not said."""

from __future__ import annotations

import datetime
import json
import random
import statistics
import time
import unittest
from dataclasses import replace
from datetime import date
from pathlib import Path
from zoneinfo import ZoneInfo

from hypothesis import given, settings
from hypothesis import strategies as st

from cravik.core.text.said.examples import OF_OFFERS
from cravik.core.text.said.lexing import lex
from cravik.core.text.said.pieces import When
from cravik.core.text.said.reading import MAX_LENGTH, Said, read_said
from cravik.core.text.sentence import sentence

DATA = Path(__file__).parent / "data"
WHEN = When(date(2026, 11, 29), ZoneInfo("Europe/Dublin"))
NOW = replace(WHEN, now=WHEN.instant(date(2026, 11, 29), datetime.time(10, 30)))
ROWS = [
    json.loads(text)
    for name in ("said-lines.ndjson", "said-lines-2.ndjson")
    for text in (DATA / name).read_text().splitlines()
]
WORDS = (
    "48 €9 10.50 10,50 1,200 ¥4 kite “Kite, 2 m” for a in or and , ; : . / ( ) + - up to 3 from 10 pieces each"
    " instead of 30 red blue only free what you want suggest 10, 20 paid once monthly"
    " every 2 weeks 6 instalments 30 % now and the"
    " rest after 9 days or 3 x until Friday 5/12 12 places code EARLY 10% off then 52"
    " ask for phone max min 4 sent tax"
    " included (Level) (+4) if wanted a month of packs first 6 at deposit label note"
).split(" ")
#: Clauses of other subjects, which change nothing of what stands before them.
CLAUSES = (
    "until Friday",
    "12 places",
    "ask for phone",
    "10% off with EARLY",
    "label market",
    "button “Book now”",
    "tax included",
    "free delivery",
    "from Monday",
    "one per customer",
    "note “call the printer”",
)


def read(text: str, currency: str = "EUR") -> Said:
    return read_said(text, currency, WHEN)


class SaidTest(unittest.TestCase):
    maxDiff = None

    def test_lines_as_people_type_them(self) -> None:
        rows = [json.loads(text) for text in (DATA / "lines.ndjson").read_text().splitlines()]
        self.assertGreaterEqual(len(rows), 200)
        for row in rows:
            with self.subTest(row["typed"]):
                parsed = read(row["typed"], row["currency"])
                got = {
                    "says": "".join(phrase.text for phrase in sentence(parsed.offer)),
                    "missed": list(parsed.missed),
                    "asked": [doubt.about for doubt in parsed.doubts],
                    "why": parsed.why,
                    "elsewhere": list(parsed.elsewhere),
                    "read_in": parsed.currency,
                }
                usual = {"missed": [], "asked": [], "why": "", "elsewhere": [], "read_in": row["currency"]}
                expected = usual | {name: part for name, part in row.items() if name not in ("typed", "currency")}
                self.assertEqual(got, expected)

    def test_each_example_is_understood_as_it_stands(self) -> None:
        for example in OF_OFFERS:
            with self.subTest(example.line):
                self.assertTrue(read(example.line).is_whole)

    def test_what_kind_of_a_question_it_is(self) -> None:
        for asked, expected in (
            ("ask if vegan (yes/no)", [("yes_no", "Vegan")]),
            ("ask if vegan (yes/no), order by 20 December", [("yes_no", "Vegan")]),
            ("ask whether it is urgent and size", [("yes_no", "It is urgent"), ("short_text", "Size")]),
            ("ask: which language? English/French/German", [("one_of", "Which language")]),
            ("ask for pick-up day", [("day", "Pick-up day")]),
        ):
            with self.subTest(asked):
                said = read(f"Workshop 40, {asked}")
                self.assertTrue(said.is_whole, said.missed)
                self.assertEqual([(each.kind, each.label) for each in said.questions], expected)
        for asked in ("ask size: S/M/L, vegan (yes/no)", "gift wrapped yes/no"):
            self.assertFalse(read(f"Workshop 40, {asked}").is_whole, asked)

    def test_what_is_said_beside_prices(self) -> None:
        said = read("Seat 20, 25 after 10 pieces, ask toppings (any): cheese/ham, ask for company and pick-up day")
        self.assertEqual((said.steps[0].after_pieces, said.asks.invoice), (10, "optional"))
        kinds = [(each.kind, each.label) for each in said.questions]
        self.assertEqual(kinds, [("several_of", "Toppings"), ("day", "Pick-up day")])
        self.assertEqual(
            read("Kite 48, opens Monday 9am").limits.opens_at, WHEN.instant(date(2026, 11, 30), datetime.time(9))
        )
        for text, opens, closes in (
            ("from Friday until Monday", date(2026, 12, 4), date(2026, 12, 8)),
            ("from 20 December until 5 January", date(2026, 12, 20), date(2027, 1, 6)),
            ("from 5 January to 1 December", date(2027, 1, 5), date(2027, 12, 2)),
            ("1 Feb to 28 Feb", date(2027, 2, 1), date(2027, 3, 1)),
        ):
            limits = read(f"Kite 48, {text}").limits
            self.assertEqual((limits.opens_at, limits.closes_at), (WHEN.instant(opens), WHEN.instant(closes)), text)
        self.assertIn("close before it opens", read("Kite 48, opens 5 Dec, closes 1 Dec").why)
        soon = read_said("Kite 48, for the next 48 hours", "EUR", NOW)
        self.assertEqual(soon.limits.closes_at, WHEN.instant(date(2026, 12, 1), datetime.time(10, 30)))
        self.assertIn("hour is not known", read("Kite 48, for the next 48 hours").why)

    def test_a_code_for_one_thing(self) -> None:
        for said in (
            "code TAIL 10% off the tails",
            "code TAIL 10% off tails only",
            "10% off the tails with TAIL",
            "10% off with TAIL, only on tails",
        ):
            with self.subTest(said):
                offer = read(f"Kite 48, optional tails 6, {said}").offer
                self.assertEqual([(each.code, each.lines) for each in offer.codes], [("TAIL", ("line-2",))])
        reading = read("Kite 48, optional tails 6, code TAIL 10% off the reels")
        self.assertEqual(reading.why, "There is no “reels” for the code TAIL to be for.")
        for said in ("code TAIL 10% off for members", "code TAIL 10% off on Friday"):
            self.assertFalse(read(f"Kite 48, {said}").is_whole, said)

    def test_how_sums_are_written(self) -> None:
        cases = {
            ("Kite 60c", "EUR"): "0.60",
            ("Kite 2k", "EUR"): "2000.00",
            ("Kite 1,250", "EUR"): "1250.00",
            ("Kite 1.250,50", "EUR"): "1250.50",
            ("Kite 12.500 kr", "DKK"): "12500.00",
            ("Kite Rs. 1,20,000/-", "INR"): "120000.00",
            ("Kite 25.-", "CHF"): "25.00",
            ("Kite 50p", "GBP"): "0.50",
        }
        for (text, currency), amount in cases.items():
            with self.subTest(text):
                said = read(text, currency)
                self.assertEqual((said.offer.lines[0].price.amount.major, said.currency), (amount, currency))
        self.assertEqual(read("Brochure 24p 6").offer.lines[0].name, "Brochure 24p")
        for text in ("Kite 12.345", "Kite 10.555", "Kite 99999999999999999", "Kite £5 and €6"):
            self.assertTrue(read(text).why, text)

    def test_what_is_paid_at_other_times_than_the_rest_is_asked(self) -> None:
        extra = read("Club 12 a month, hat 20 extra")
        self.assertEqual(extra.doubts[0].question, "Is “hat” paid once, or every time?")
        once, always = (read(choice.line).offer.lines[1] for choice in extra.doubts[0].choices)
        self.assertEqual([(each.optional, each.once) for each in (once, always)], [(True, True), (True, False)])
        self.assertFalse(read("Kite 48 and club 12 a month together").is_whole)

    def test_every_answer_to_a_question_is_understood_or_asks_another(self) -> None:
        asked = 0
        for row in ROWS:
            said = read(row["text"], row["currency"])
            for doubt in said.doubts:
                for choice in doubt.choices:
                    with self.subTest(row["text"], line=choice.line):
                        answer = read(choice.line, row["currency"])
                        self.assertFalse(answer.missed and not said.missed, answer.missed)
                        self.assertNotIn(doubt, answer.doubts)
                        asked += 1
            for keep in said.keeps:
                kept = read(keep.line, row["currency"])
                self.assertIn(keep.words.replace("“", "").replace("”", ""), kept.notes)
        self.assertGreater(asked, 60)

    def test_an_answer_keeps_what_else_was_said(self) -> None:
        around = (
            "10% off with TEN, {}",
            "{}, until 1 March 2027",
            "12 orders; {}",
            "{} until 1 March 2027, label market",
        )
        for text in (
            "Kite 48, tail 6",
            "Dog grooming small 30 large 55, nail trim 10",
            "Room 480 shared, 620 single use",
        ):
            for clauses in around:
                said = read(clauses.format(text), "EUR")
                (doubt,) = said.doubts
                for choice in doubt.choices:
                    with self.subTest(clauses.format(text), choice=choice.words):
                        answer = read(choice.line, "EUR")
                        self.assertTrue(answer.is_whole, choice.line)
                        kept = ([code.code for code in answer.offer.codes], answer.limits, answer.labels)
                        self.assertEqual(kept, ([code.code for code in said.offer.codes], said.limits, said.labels))
        between = read("Kite 48, until Friday, tail 6", "EUR")
        for choice in between.doubts[0].choices:
            self.assertEqual(read(choice.line, "EUR").limits, between.limits, choice.line)

    def test_nothing_is_made_of_a_line_a_piece_of_which_went_unused(self) -> None:
        for text in ("Kite 48, one of 20, 40 or 60", "Honey 3 for 20, one of 5, 6 or 7"):
            self.assertFalse(read(text, "EUR").is_whole, text)

    def test_a_clause_more_changes_nothing_of_what_was_said_before_it(self) -> None:
        for row in ROWS:
            said = read(row["text"], row["currency"])
            if not said.is_whole:
                continue
            for clause in CLAUSES:
                longer = read(f"{row['text']}, {clause}", row["currency"])
                if longer.is_whole:
                    with self.subTest(row["text"], clause=clause):
                        self.assertEqual(_sums(longer), _sums(said))

    @settings(max_examples=150)
    @given(st.lists(st.sampled_from(WORDS), max_size=40).map(" ".join) | st.text(max_size=120))
    def test_noise_uses_each_number_once_or_asks(self, text: str) -> None:
        said = read(text)
        self.assertIsInstance(said, Said)
        if said.is_whole and said.pieces:
            self.assert_each_number_is_used(text, said)

    def test_each_number_is_used_once(self) -> None:
        for row in ROWS:
            said = read(row["text"], row["currency"])
            if said.is_whole:
                with self.subTest(row["text"]):
                    self.assert_each_number_is_used(row["text"], said)

    def assert_each_number_is_used(self, text: str, said: Said) -> None:
        """Each number of the text stands in just one piece, or in a name or a word of the seller's."""
        line = lex(" ".join(text.replace("\u00a0", " ").split()), "EUR")
        numbers = sum(token.number is not None for token in line.tokens)
        names = ("what is sold", "an extra, if wanted")
        in_pieces = [
            _numbers_in(piece.text) for piece in said.pieces if piece.words not in names and piece.text[:4] != "note"
        ]
        named = [said.offer.title]
        for each in said.offer.lines:
            named += [each.name, *(level.name for level in getattr(each.price, "levels", ()))]
            named += ["9"] if each.quantity.min == each.quantity.max != 1 else []  # “6 hrs at 70”
        in_names = max(sum(map(_numbers_in, dict.fromkeys(named))), 0)
        self.assertLessEqual(sum(in_pieces), numbers, said.pieces)
        self.assertGreaterEqual(
            sum(in_pieces) + in_names, numbers - _numbers_in(" ".join(said.notes)), (text, said.pieces)
        )

    def test_the_longest_line_of_any_noise_is_answered_in_time(self) -> None:
        chance = random.Random(36)
        taken = []
        for number in range(60):
            words = WORDS if number % 3 else ["1", "2,", "3/4", "a", "or"]
            text = " ".join(chance.choice(words) for _ in range(2000))[
                : MAX_LENGTH - chance.randrange(3000) * (number % 2)
            ]
            begun = time.process_time()
            read(text)
            taken.append(time.process_time() - begun)
        self.assertLess(statistics.quantiles(taken, n=20)[-1], 0.5)
        self.assertTrue(read("48 for a kite, " * MAX_LENGTH).why)


def _numbers_in(text: str) -> int:
    return sum(token.number is not None for token in lex(text, "EUR").tokens) if text else 0


def _sums(said: Said) -> object:
    lines = [replace(line, ships=False, quantity=replace(line.quantity)) for line in said.offer.lines]
    return (
        [(line.name, line.price, line.choices, line.optional, line.once) for line in lines],
        said.offer.plan,
        said.steps,
    )
