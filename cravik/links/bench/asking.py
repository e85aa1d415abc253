"""Asking and dropping a question of the seller's by one press."""

from __future__ import annotations

from typing import cast

from cravik.core.coded import Coded
from cravik.core.documents.data import QuestionData, put
from cravik.core.documents.link import MAX_QUESTIONS
from cravik.core.documents.writing import written
from cravik.core.link.question_line import read_question
from cravik.links.bench.acting import Acting, ActRefused
from cravik.links.bench.parts.questions import put_questions
from cravik.links.places.naming import free_key
from cravik.ui.fields import clean_line

MAX_LABEL = 120


def ask(acting: Acting) -> None:
    """A question more, as it was said in one line."""
    text = clean_line(str(acting.sent.get("new_question", "")))
    questions = list(acting.draft.document.get("questions") or [])
    if not text.lstrip("* "):
        raise ActRefused.of("question_missing", "new_question")
    if len(questions) >= MAX_QUESTIONS:
        raise ActRefused.of("too_many_questions", "new_question", most=MAX_QUESTIONS)
    question = read_question(text, "question")
    if len(question.label) > MAX_LABEL:
        raise ActRefused.of("question_too_long", "new_question", most=MAX_LABEL)
    if question.label.casefold() in {each["label"].casefold() for each in questions}:
        raise ActRefused.of("question_asked_already", "new_question")
    key = free_key(question.label, [each["key"] for each in questions], "question")
    put_questions(acting.draft, [*questions, put(cast(QuestionData, written(question)), key=key)])
    acting.opens, acting.done = "questions", Coded("question_added", question=question.label)


def drop_question(acting: Acting) -> None:
    """Ask the question of that key, which stands in the line's place, no more."""
    questions = list(acting.draft.document.get("questions") or [])
    left = [each for each in questions if each["key"] != acting.line]
    if len(left) == len(questions):
        raise ActRefused.of("question_gone")
    put_questions(acting.draft, left)
    acting.opens, acting.done = "questions", Coded("question_dropped")
