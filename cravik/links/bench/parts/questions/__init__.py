"""The seller's own questions, in order; what repeats another is named, and what the page asks altogether."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, cast

from cravik.core.documents.data import QuestionData
from cravik.core.documents.link import MAX_QUESTIONS
from cravik.core.link.effort import Effort, effort_of
from cravik.core.link.repeated_questions import repeats_built_in
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.questions.form import QuestionForm, shown_of
from cravik.links.places.naming import free_key
from cravik.ui.fields import form_rows

QuestionRows = form_rows(QuestionForm, MAX_QUESTIONS, 0)
_NEW = "new"
#: What the built-in questions are called.
_BUILT_IN = {
    "name": "the buyer's name, which is always asked",
    "email": "the e-mail address, which is always asked",
    "phone": "a phone number: the page can ask for it itself",
    "address": "an address: the page can ask for it itself",
    "tax_number": "a tax number: the page can ask for it itself",
    "note": "a note: the page can ask for it itself",
}


@dataclass(frozen=True)
class Repeated:
    """A question that asks what is asked anyway, in words, and its key to drop it by."""

    key: str
    words: str


class QuestionsPart(BenchPart):
    name = "questions"
    heading = "Questions of your own"
    mark = "questions-TOTAL_FORMS"
    called = "Questions"
    adds = "Question of your own"
    found_by = "ask field form answer"
    template = "links/bench/questions/questions.html"
    phrases = ("questions",)
    pieces: ClassVar = {
        "repeated": "links/bench/questions/_repeated.html",
        "effort": "links/bench/questions/_effort.html",
    }

    @property
    def value(self) -> str:
        return ", ".join(question.get("label", "") for question in self.questions)

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def questions(self) -> list[QuestionData]:
        return list(self.link.draft.get("questions") or [])

    def add_fields(self) -> None:
        initial = [shown_of(question, place) for place, question in enumerate(self.questions)]
        self.add_rows("questions", QuestionRows, initial)

    @property
    def kept(self) -> list[QuestionForm]:
        """The rows that count, in the order of their places; one without a place comes last."""
        rows = [row for row in cast(list[QuestionForm], self.lists["questions"].kept) if not row.is_blank]
        last = len(rows) + 1000
        places = [row.cleaned_data.get("place") for row in rows]
        order = sorted(range(len(rows)), key=lambda at: (last if places[at] is None else places[at], at))
        return [rows[at] for at in order]

    def check(self) -> None:
        labels: set[str] = set()
        for row in self.kept:
            row.check()
            label = row.cleaned_data.get("label", "").casefold()
            if label and label in labels:
                row.add_error("label", "Another question asks the same.")
            labels.add(label)

    @property
    def piece(self) -> list[QuestionData]:
        questions: list[QuestionData] = []
        for row in self.kept:
            key, taken = row.cleaned_data["key"], [each["key"] for each in questions]
            if key in ("", _NEW, *taken):
                kept = [other.cleaned_data["key"] for other in self.kept]
                key = free_key(row.cleaned_data["label"], [*taken, *kept], "question")
            questions.append(row.document(key))
        return questions

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        put_questions(draft, change.piece)

    @property
    def repeated(self) -> list[Repeated]:
        """The questions of the draft that repeat a built-in one."""
        found = ((question, repeats_built_in(question["label"])) for question in self.questions)
        return [
            Repeated(question["key"], f"“{question['label']}” asks for {_BUILT_IN[built_in]}.")
            for question, built_in in found
            if built_in
        ]

    @property
    def effort(self) -> Effort | None:
        """What the page asks altogether, while the draft has no gap."""
        return effort_of(self.link.content) if self.link.effective else None


def put_questions(draft: DraftInHand, questions: list[QuestionData]) -> None:
    """Put the questions into the draft; none is said by nothing."""
    draft.put_or_drop("questions", questions)
