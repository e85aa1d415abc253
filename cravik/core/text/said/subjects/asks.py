"""What buyers are asked: phone, address, a note, and the seller's own questions with their kinds."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from cravik.core.link.question_line import read_question
from cravik.core.link.questions import (
    MAX_CHOICES,
    DayQuestion,
    OneOfQuestion,
    Question,
    SeveralOfQuestion,
    ShortTextQuestion,
    YesNoQuestion,
)
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.names import name_of
from cravik.core.text.said.patterns import compiled
from cravik.core.text.said.pieces import Line, Piece, Rule, Search

_ASK = compiled("[and] [please] <ask> [for] [:] [the | their | a | an | your]")
_MUST = compiled("[and] [please] <must>")
_YES_NO = compiled("[?] [LP] [,] [:] (yes or no | yes / no | y / n | yes no) [RP]")
_END = frozenset((";", ".", "—", "(", "|"))
_ANY = compiled("LP (any | several | all that apply) RP")
#: “pick-up day” and “date of birth” ask for a day as “which day” does.
_DAY_AT_ITS_END = re.compile(r"\b(?:date|day|birthday)\b(?: of birth)?$", re.IGNORECASE)
_IF = ("if", "whether")
MAX_LABEL = 120
#: What is asked: its label, its kind where one is told, and its options.
_Label = tuple[str, str, tuple[str, ...]]


def _questions(line: Line, place: int) -> Iterator[Piece]:
    """``ask for phone and allergies``, ``ask size: S/M/L``: up to each place at which something else may begin."""
    got = line.match(_ASK.expression, place)
    if got is None:
        return
    must = line.match(_MUST.expression, place) is not None
    ends = [got.end]
    end = got.end
    while end < len(line.tokens):
        if yes_no := line.match(_YES_NO.expression, end):
            end = yes_no.end  # says what kind of a question it is: nothing more is asked by it
            break
        several = line.match(_ANY.expression, end)
        if several is None and line.word(end) in _END:
            break
        end = several.end if several else end + 1
        if end == len(line.tokens) or line.word(end) in (",", ".", ";", "—"):
            ends.append(end)
    for last in {*ends[1:], end}:
        labels = _labels(line, got.end, last)
        if labels:
            telling = sum(
                line.word(each) in line.words.telling or line.tokens[each].number is not None
                for each in range(got.end, last)
            )
            is_list = len(labels) == 1 and bool(labels[0][2])
            commas = 0 if is_list else line.text(got.end, last).count(",")
            score = 0.8 * (last - place) - 0.1 - telling - 0.5 * commas
            yield Piece("ask", place, last, (must, labels), score)


def _labels(line: Line, start: int, end: int) -> list[_Label]:
    """Each label with its kind, where one is told, and its options."""
    for place in range(start, end):
        got = line.match(_YES_NO.expression, place)
        if got and got.end >= end and place > start:
            return [(_label(line, start, place), "yes_no", ())]
        if line.word(place) == "(" and place > start and line.word(end - 1) == ")":
            options = _options(line, place + 1, end - 1)
            return [(_label(line, start, place), "one_of", options)] if len(options) > 1 else []
        if line.word(place) in (":", "?") and place > start:
            options = _options(line, place + 1, end)
            several = next((each for each in range(start, place) if line.match(_ANY.expression, each)), place)
            kind = "any_of" if several < place else "one_of"
            return [(_label(line, start, several), kind, options)] if len(options) > 1 else []
    found: list[_Label] = []
    begin = start
    for place in range(start, end + 1):
        if place == end or line.word(place) in (",", "and", "&"):
            if any(line.tokens[each].number and line.word(each)[0] in "#¤" for each in range(begin + 1, place)):
                return []  # “gift wrap 3” is sold, and not asked
            if label := _label(line, begin, place):
                found.append(_with_options(label, "yes_no" if line.word(begin) in _IF else ""))
            begin = place + 1
    return found


def _with_options(label: str, kind: str) -> _Label:
    """``size S/M/L``: one of those."""
    told = re.fullmatch(r"(.*\w)\s+([^\s/]+(?:/[^\s/]+)+)", label)
    return (told[1], "one_of", tuple(dict.fromkeys(told[2].split("/")))) if told and not kind else (label, kind, ())


def _label(line: Line, start: int, end: int) -> str:
    while start < end and line.word(start) in ("the", "a", "an", "their", "for", "about", ":", "your", *_IF):
        start += 1
    label = name_of(line, start, end).strip(" ?")[:MAX_LABEL] if start < end else ""
    return label if any(sign.isalpha() for sign in label) else ""


def _options(line: Line, start: int, end: int) -> tuple[str, ...]:
    text = line.text(start, end) if end > start else ""
    parts = re.split(r"\s*[/|]\s*|,\s*(?:or\s+)?|\s+or\s+", text.strip(" ().?"))
    if any("(" in part or ")" in part for part in parts):
        return ()  # something else begins there
    return tuple(dict.fromkeys(part.strip() for part in parts if part.strip()))[:MAX_CHOICES]


def _always(what: str) -> list[_Label]:
    return [(what, "", ())]


RULES = (
    Search(_questions, _ASK.first),
    Rule("ask", "<phone:what> (required | needed | compulsory | mandatory)", lambda got: (True, _always("phone"))),
    Rule("ask", "<phone:what> (optional | if they like)", lambda got: (False, _always("phone"))),
    Rule("ask", "<address:what> (required | needed | compulsory)", lambda got: (True, _always("address"))),
    Rule("ask", "<address:what> optional", lambda got: (False, _always("address"))),
)


def build(draft: Draft) -> None:
    words = draft.line.words.classes
    for piece in draft.pieces_of("ask"):
        must, labels = piece.value
        told = []
        for label, kind, options in labels:
            known = label.casefold()
            if known in words["phone"] and not kind:
                draft.phone = "required" if must else "optional"
                told.append(f"phone number ({draft.phone})")
            elif known in words["address"] and not kind:
                draft.address = "required" if must else "optional"
                told.append(f"address ({draft.address})")
            elif known in words["invoice"] and not kind:
                draft.invoice = True
                told.append("what an invoice needs (optional)")
            elif known in words["noteask"] and not kind:
                draft.note = ""
                told.append("a note (optional)")
            elif question := _question(draft, label, kind, options, must):
                draft.questions.append(question)
                told.append(f"“{question.label}” ({_KINDS[question.kind]})")
        if not told:
            draft.refuse(piece)
        piece.words = "asks for " + ", ".join(told)


_KINDS = {
    "short_text": "a line of text",
    "long_text": "text",
    "number": "a number",
    "one_of": "one of a list",
    "several_of": "several of a list",
    "yes_no": "yes or no",
    "day": "a day",
}


def _question(draft: Draft, label: str, kind: str, options: tuple[str, ...], must: bool) -> Question | None:
    """The question, of the kind that it is asked by; None where it is asked already."""
    key = f"question-{len(draft.questions) + 1}"
    label = label[:1].upper() + label[1:]
    if label.casefold() in [each.label.casefold() for each in draft.questions]:
        return None
    if kind == "yes_no":
        return YesNoQuestion(key, label)
    if options:
        several = "any" in kind
        return (SeveralOfQuestion if several else OneOfQuestion)(key, label, options, required=must)
    question = read_question(label, key)
    if isinstance(question, ShortTextQuestion) and _DAY_AT_ITS_END.search(label):
        return DayQuestion(key, label, required=must)
    return replace(question, required=must)
