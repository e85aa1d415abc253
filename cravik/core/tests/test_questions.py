from __future__ import annotations

import unittest
from datetime import date
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.link.questions import (
    Checked,
    DayQuestion,
    LongTextQuestion,
    NumberQuestion,
    OneOfQuestion,
    Question,
    SeveralOfQuestion,
    ShortTextQuestion,
    YesNoQuestion,
    check_answers,
)
from cravik.core.link.repeated_questions import repeats_built_in
from cravik.core.text.faults import fault_words

INITIALS = ShortTextQuestion("initials", "Which initials shall we sew on?", shortest=2, longest=3)
STORY = LongTextQuestion("story", "Tell us about the kite", longest=20)
SPAN = NumberQuestion("span", "How wide?", least=Decimal("0.5"), most=Decimal(4))
COUNT = NumberQuestion("count", "How many children?", least=Decimal(1), whole=True)
COLOUR = OneOfQuestion("colour", "Colour", ("red", "blue"), required=True)
DAYS = SeveralOfQuestion("days", "Which days?", ("Sat", "Sun", "Mon"), least=1, most=2)
AGREED = YesNoQuestion("agreed", "May we take pictures?", required=True)
WHEN = DayQuestion("when", "When?", earliest=date(2026, 12, 1), latest=date(2026, 12, 24))
ALL: list[Question] = [INITIALS, STORY, SPAN, COUNT, COLOUR, DAYS, AGREED, WHEN]


def checked(question: Question, sent: str | list[str]) -> str | tuple[str, ...] | bool | tuple[str, object]:
    """What is kept, or the code and the bound of the refusal."""
    result = check_answers([question], {question.key: sent})
    return (result.faults[0].code, result.faults[0].limit) if result.faults else result.answers[question.key]


class CheckAnswersTest(unittest.TestCase):
    def test_answers_are_kept_in_one_form(self) -> None:
        for question, sent, kept in (
            (INITIALS, "  A   B ", "A B"),
            (INITIALS, "a\u0301b", "áb"),
            (STORY, " one \r\ntwo\x07 ", "one\ntwo"),
            (SPAN, "1,80", "1.8"),
            (SPAN, "٢", "2"),
            (COUNT, "12", "12"),
            (COLOUR, "red", "red"),
            (COLOUR, ["blue"], "blue"),
            (DAYS, ["Mon", "Sat"], ("Sat", "Mon")),
            (DAYS, "Sun", ("Sun",)),
            (AGREED, "Yes", True),
            (WHEN, "2026-12-24", "2026-12-24"),
        ):
            with self.subTest(question.kind, sent=sent):
                self.assertEqual(checked(question, sent), kept)

    def test_what_breaks_a_bound_is_refused_with_the_bound(self) -> None:
        for question, sent, refusal in (
            (INITIALS, "A", ("answer_too_short", 2)),
            (INITIALS, "ABCD", ("answer_too_long", 3)),
            (STORY, "x" * 21, ("answer_too_long", 20)),
            (SPAN, "0.49", ("answer_below_least", "0.5")),
            (SPAN, "-1", ("answer_below_least", "0.5")),
            (SPAN, "4.000001", ("answer_above_most", "4")),
            (SPAN, "1e3", ("answer_no_number", None)),
            (SPAN, "NaN", ("answer_no_number", None)),
            (COUNT, "1.5", ("answer_not_whole", None)),
            (COLOUR, "green", ("answer_not_offered", None)),
            (COLOUR, ["red", "blue"], ("answer_not_single", None)),
            (DAYS, ["Sat", "Sun", "Mon"], ("answer_too_many", 2)),
            (DAYS, ["Tue"], ("answer_not_offered", None)),
            (AGREED, "no", ("answer_missing", None)),
            (AGREED, "perhaps", ("answer_not_offered", None)),
            (WHEN, "2026-11-30", ("answer_too_early", "2026-12-01")),
            (WHEN, "2026-12-25", ("answer_too_late", "2026-12-24")),
            (WHEN, "24.12.2026", ("answer_no_day", None)),
            (WHEN, "2026-02-30", ("answer_no_day", None)),
        ):
            with self.subTest(question.kind, sent=sent):
                self.assertEqual(checked(question, sent), refusal)

    def test_every_fault_is_returned_and_good_answers_are_kept(self) -> None:
        result = check_answers(ALL, {"initials": "A", "span": "9", "colour": " ", "when": "2026-12-02", "shoe": "44"})
        self.assertEqual(
            {(fault.at, fault.code) for fault in result.faults},
            {
                ("shoe", "answer_not_asked"),
                ("initials", "answer_too_short"),
                ("span", "answer_above_most"),
                ("colour", "answer_missing"),
                ("agreed", "answer_missing"),
            },
        )
        self.assertEqual(result.answers, {"when": "2026-12-02"})

    def test_one_answer_can_break_several_bounds(self) -> None:
        result = check_answers([COUNT, DAYS], {"count": "0.5", "days": ["Sat", "Sun", "Tue"]})
        self.assertEqual(
            [(fault.at, fault.code) for fault in result.faults],
            [
                ("count", "answer_not_whole"),
                ("count", "answer_below_least"),
                ("days", "answer_not_offered"),
                ("days", "answer_too_many"),
            ],
        )

    def test_what_is_optional_may_be_left_empty(self) -> None:
        optional = [question for question in ALL if not question.required]
        self.assertEqual(check_answers(optional, {"days": [], "span": "  ", "story": "\x00\x07"}), Checked({}, ()))

    @given(st.dictionaries(st.sampled_from([question.key for question in ALL]), st.text() | st.lists(st.text())))
    def test_whatever_is_sent_gets_an_answer_or_a_sentence(self, sent: dict[str, str | list[str]]) -> None:
        result = check_answers(ALL, sent)
        self.assertFalse(set(result.answers) & {fault.at for fault in result.faults})
        for fault in result.faults:
            self.assertTrue(fault_words(fault))
        for kept in result.answers.values():
            str(kept).encode()


class RepeatedQuestionTest(unittest.TestCase):
    def test_a_built_in_question_is_recognised_by_its_words(self) -> None:
        for built_in, labels in {
            "name": ("Name", "Your full name", "What's your name?", "First and last name", "SURNAME"),
            "email": ("E-mail", "Email address", "Your e‑mail, please", "What is your best e mail?", "mail address"),
            "phone": ("Phone", "Mobile number", "Telephone no.", "WhatsApp number", "What's your phone number?"),
            "address": (
                "Address",
                "Where do you live?",
                "Postcode",
                "Delivery address",
                "Street and house number",
                "ZIP code",
            ),
            "tax_number": ("VAT number", "Tax ID", "EU VAT registration number", "Company VAT no."),
            "note": (
                "Note",
                "Anything else?",
                "Comments",
                "Message to the seller",
                "Special requests",
                "Anything else we should know?",
            ),
        }.items():
            for label in labels:
                with self.subTest(label):
                    self.assertEqual(repeats_built_in(label), built_in)

    def test_a_question_of_its_own_is_left_alone(self) -> None:
        for label in (
            "Name on the kite",
            "Which name shall we sew on?",
            "What colour is your mail box?",
            "How did you hear of us?",
            "Name of your school",
            "Your dog's name",
            "Who shall we address the card to? A line of text",
            "Phone model",
            "Which city did you fly kites in last?",
            "What message shall we print?",
            "",
            "???",
            "名前",
        ):
            with self.subTest(label):
                self.assertIsNone(repeats_built_in(label))
