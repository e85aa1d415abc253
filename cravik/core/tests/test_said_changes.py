"""Changes that are said of a link: what each changes, and that nothing else is touched."""

from __future__ import annotations

import unittest
from dataclasses import fields, replace
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from hypothesis import given, settings
from hypothesis import strategies as st

from cravik.core.link.limits import NO_LIMITS
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Quantity
from cravik.core.pricing.partial_offer import PartialLine
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.schedule import Every, RepeatPlan
from cravik.core.tests.test_said import WORDS
from cravik.core.text.said.changes import Known, SaidChange, read_change
from cravik.core.text.said.examples import OF_CHANGES
from cravik.core.text.said.orders import SaidOrder, read_order, read_spots
from cravik.core.text.said.pieces import When

WHEN = When(date(2026, 11, 29), ZoneInfo("UTC"))
KITE = PartialLine("kite", "Delta kite", FixedPrice(Money(4800, "EUR")))
TAIL = PartialLine("tail", "Tail", FixedPrice(Money(500, "EUR")), optional=True)
KNOWN = Known((KITE, TAIL), codes=("EARLY",), questions=("Name on the tail", "Size"), labels=("market",))


def euro(amount: str) -> Money:
    return Money.parse(amount, "EUR")


def read(text: str, known: Known = KNOWN) -> SaidChange:
    return read_change(text, "EUR", WHEN, known)


def changed(said: SaidChange) -> set[str]:
    """The names of what the change speaks of."""
    told = ("pieces", "doubts", "missed", "why")
    names = {each.name for each in fields(said) if each.name not in told}
    return {name for name in names if getattr(said, name) and getattr(said, name) != NO_LIMITS}


class SaidChangesTest(unittest.TestCase):
    maxDiff = None

    def test_each_changes_one_thing(self) -> None:
        kite, tail = KITE, TAIL
        cases: dict[str, dict[str, Any]] = {
            "52": {"lines": {"kite": replace(kite, price=FixedPrice(euro("52")))}},
            "make it 52": {"lines": {"kite": replace(kite, price=FixedPrice(euro("52")))}},
            "Tail 6": {"lines": {"tail": replace(tail, price=FixedPrice(euro("6")))}},
            "Tail 6, Delta kite 50": {
                "lines": {
                    "tail": replace(tail, price=FixedPrice(euro("6"))),
                    "kite": replace(kite, price=FixedPrice(euro("50"))),
                }
            },
            "was 60": {"lines": {"kite": replace(kite, price=FixedPrice(euro("48"), euro("60")))}},
            "up to 3": {"lines": {"kite": replace(kite, quantity=Quantity(1, 1, 3))}},
            "Tail up to 5": {"lines": {"tail": replace(tail, quantity=Quantity(1, 1, 5))}},
            "put the price up by 4": {
                "lines": {
                    "kite": replace(kite, price=FixedPrice(euro("52"))),
                    "tail": replace(tail, price=FixedPrice(euro("9"))),
                }
            },
            "2.50 cheaper": {
                "lines": {
                    "kite": replace(kite, price=FixedPrice(euro("45.50"))),
                    "tail": replace(tail, price=FixedPrice(euro("2.50"))),
                }
            },
            "up 10 %": {
                "lines": {
                    "kite": replace(kite, price=FixedPrice(euro("52.80"))),
                    "tail": replace(tail, price=FixedPrice(euro("5.50"))),
                }
            },
        }
        for text, expected in cases.items():
            with self.subTest(text):
                said = read(text)
                self.assertTrue(said.is_whole, (said.missed, said.why))
                self.assertEqual(dict(said.lines), expected["lines"])
                self.assertEqual(changed(said), {"lines"})

    def test_a_price_until_a_day_is_not_taken_for_the_end_of_the_link(self) -> None:
        for text in ("38 until Friday", "make it 38 until Friday", "38, until Friday", "until Friday 38"):
            with self.subTest(text):
                said = read(text)
                self.assertFalse(said.is_whole)
                back, closed = (read(choice.line) for choice in said.doubts[0].choices)
                self.assertTrue(back.is_whole and closed.is_whole)
                self.assertEqual(back.lines["kite"].price, FixedPrice(euro("38")))
                self.assertEqual([step.price for step in back.steps], [FixedPrice(euro("48"))])
                self.assertIsNone(back.limits.closes_at)
                self.assertEqual(str(closed.limits.closes_at), "2026-12-05 00:00:00+00:00")
                self.assertEqual(closed.steps, ())
        for text in ("20% less until Friday", "20% less, until Friday", "from Friday raise by 5"):
            self.assertIn("52 from Monday", read(text).why, text)

    def test_the_last_day_counts_however_it_is_said(self) -> None:
        for text in (
            "close 1 May",
            "close it on 1 May",
            "extend to 1 May",
            "keep it open until 1 May",
            "order by 1 May",
        ):
            self.assertEqual(str(read(text).limits.closes_at), "2027-05-02 00:00:00+00:00", text)
        self.assertEqual(str(read("order before 1 May").limits.closes_at), "2027-05-01 00:00:00+00:00")

    def test_a_code_for_one_thing(self) -> None:
        said = read("10% off the tail with SPRING")
        self.assertTrue(said.is_whole, said.why)
        self.assertEqual([(code.code, code.lines) for code in said.codes], [("SPRING", ("tail",))])

    def test_what_is_of_the_whole_link(self) -> None:
        said = read("10% off with EARLY until Friday, once per customer")
        self.assertEqual((said.codes[0].ends_on, said.code_rules["EARLY"].uses_per_buyer), (date(2026, 12, 4), 1))
        step = read("52 from 1 March").steps[0]
        self.assertEqual(
            (step.line, step.price, step.from_ and step.from_.date()),
            ("kite", FixedPrice(euro("52")), date(2027, 3, 1)),
        )
        self.assertEqual(read("ask for phone and allergies").phone, "optional")
        self.assertEqual([each.label for each in read("ask for phone and allergies").questions], ["Allergies"])
        self.assertEqual(read("40 orders").limits.orders, 40)
        self.assertEqual(read("end after 40 orders").limits.orders, 40)
        club = Known((PartialLine("club", "Club", FixedPrice(euro("12"))),), RepeatPlan(Every(1, "month")))
        self.assertEqual(read("end after 12", club).plan, RepeatPlan(Every(1, "month"), payments=12))
        self.assertEqual(read("first month free", club).plan, RepeatPlan(Every(1, "month"), trial_months=1))
        self.assertTrue(read("gift wrap 3 extra").added[0].optional)

    def test_what_goes_is_something_that_is_there(self) -> None:
        for text, number in (
            ("drop the second question", 1),
            ("remove the last question", 1),
            ("drop question about name", 0),
        ):
            self.assertEqual([each.number for each in read(text).cleared], [number], text)
        self.assertEqual([each.name for each in read("drop code early").cleared], ["EARLY"])
        self.assertIn("“Name on the tail” and “Size”", read("drop the third question").why)
        self.assertIn("no label “beach”", read("drop the label beach").why)

    def test_what_is_not_known_is_asked_or_missed_and_changes_nothing(self) -> None:
        self.assertEqual(read("gift wrap 3").doubts[0].choices[0].line, "gift wrap 3.00 extra")
        for text in ("hello", "$52", "52 53", "until yesterday", "was 40", "up 0 %", "", "end after", "drop"):
            self.assertFalse(read(text).is_whole, text)

    def test_each_example_is_understood(self) -> None:
        club = Known((KITE,), RepeatPlan(Every(1, "month")), ("EARLY",), ("Name", "Size"))
        for example in OF_CHANGES:
            with self.subTest(example.line):
                known = club if example.line == "end after 12" else replace(club, plan=KNOWN.plan)
                self.assertTrue(read(example.line, known).is_whole, read(example.line, known))

    @settings(max_examples=100)
    @given(st.lists(st.sampled_from(WORDS), max_size=30).map(" ".join) | st.text(max_size=80))
    def test_noise_breaks_nothing(self, text: str) -> None:
        self.assertIsInstance(read(text), SaidChange)


class SaidOrdersTest(unittest.TestCase):
    def test_what_is_done_with_which_links(self) -> None:
        cases: dict[str, dict[str, Any]] = {
            "everything labelled market up 5 %": {"act": "price", "change": "+5 %", "label": "market"},
            "the kite ones 10% cheaper": {"act": "price", "change": "-10 %", "words": "kite"},
            "all down 2.00": {"act": "price", "change": "-2.00", "everything": True},
            "pause everything": {"act": "pause", "everything": True},
            "resume the paused links": {"act": "resume", "state": "paused"},
            "archive all drafts": {"act": "archive", "state": "draft"},
            "remove the label market everything": {"act": "label", "take": "market", "everything": True},
        }
        for text, expected in cases.items():
            with self.subTest(text):
                said = read_order(text, "EUR", WHEN)
                self.assertTrue(said.is_whole)
                self.assertEqual(said, SaidOrder(**expected))

    def test_until_a_day(self) -> None:
        pause = read_order("pause the beach ones until Saturday", "EUR", WHEN)
        self.assertEqual((pause.act, pause.words), ("pause_until", "beach"))
        self.assertEqual(pause.until, WHEN.instant(date(2026, 12, 5)))
        end = read_order("end everything labelled summer on 31 January", "EUR", WHEN)
        self.assertEqual((end.act, end.until), ("end_at", WHEN.instant(date(2027, 2, 1))))

    def test_nothing_is_left_out_in_silence(self) -> None:
        for line, missed in (
            ("all 10% cheaper until Sunday", "until Sunday"),
            ("pause the beach ones on Saturday", "on Saturday"),
            ("archive the drafts on Friday", "on Friday"),
            ("end everything on 3 March until 5 March", "until 5 March"),
            ("pause the beach ones and the kite ones", "the kite ones"),
            ("pause everything labelled market and everything labelled beach", "everything labelled beach"),
        ):
            with self.subTest(line):
                said = read_order(line, "EUR", WHEN)
                self.assertFalse(said.is_whole)
                self.assertIn(missed, said.missed)

    def test_what_is_only_looked_for_or_not_clear_does_nothing(self) -> None:
        for text in (
            "delta kite", "pause", "up 5%", "kite up", "everything", "end everything", "everything up 0 %",
            "pause everything up 5 %", "pause everything until yesterday", "everything up 5 % twice", "",
        ):  # fmt: skip
            self.assertFalse(read_order(text, "EUR", WHEN).is_whole, text)

    def test_spots(self) -> None:
        cases = {
            "a spot for the library, one for the kiosk": ("Library", "Kiosk"),
            "spot at the market stall and one in the newsletter": ("Market stall", "Newsletter"),
            "a spot for “Sunday market”": ("Sunday market",),
        }
        for text, names in cases.items():
            self.assertEqual(read_spots(text, WHEN), (names, ()))
        for text in ("Stall sign", "library, kiosk", ""):
            self.assertEqual(read_spots(text, WHEN)[0], ())
