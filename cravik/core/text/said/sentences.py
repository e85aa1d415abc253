"""Sentences that the core wrote, read back exactly: they are recognised by saying again what was read of them."""

from __future__ import annotations

import re
from collections.abc import Iterator

from cravik.core.text.parsing.reading import ELSEWHERE, ParsedLine, parse_line
from cravik.core.text.sentence import MAX_NAMED, NAMED_SINGLY, sentence

#: What each has: when it is paid, and the end.
_MARKS = re.compile(r"[,;] paid .*\.$", re.DOTALL)
#: What a sentence only counts; see ``ParsedLine.unsaid``.
_COUNTED = re.compile(
    r"one of \d+ amounts from .+|from .+ each, by quantity in \d+ steps,|.+ each, less in \d+ sizes of bundle,"
    r"|(?:(?:and )?in )?one of \d+ for .+|an amount"
)
_ZONE = re.compile(r"\(([A-Z]\w+/[\w/+-]+)\)")
_NOTHING = re.compile(r"nothing \(([^()]+)\)")
_JOINTS = re.compile(r"[\s,;.]*(?:and)?\s*")


def read_sentence(text: str, currency: str) -> ParsedLine | None:
    """What the text says, if it is such a sentence; a seller may have changed a figure in it."""
    if not _MARKS.search(text):
        return None
    parsed = parse_line(text, currency)
    if parsed is None or not parsed.offer.title:
        return None
    return parsed if any(_says_again(text, parsed, named) for named in (NAMED_SINGLY, MAX_NAMED)) else None


def _says_again(text: str, parsed: ParsedLine, named: int) -> bool:
    """Whether all that stands in the text is said again, but for what Setup decides and what is only counted."""
    text = text.replace("\u00a0", " ")
    at, zone = 0, _ZONE.search(text)
    told = sentence(
        parsed.offer, steps=parsed.steps, limits=parsed.limits, zone=zone[1] if zone else "UTC", named=named
    )
    for phrase in told:
        words = phrase.text.replace("\u00a0", " ")
        if phrase.gap or not phrase.about or phrase.about.endswith("delivery"):
            continue
        # a price by quantity says no “nothing”
        there = [(text.find(each, at), each) for each in (words, _NOTHING.sub(r"\1", words))]
        found, words = min((each for each in there if each[0] >= 0), default=(-1, words))
        if found < 0 or not _is_beside(text[at:found], parsed):
            return False
        at = found + len(words)
    return _is_beside(text[at:], parsed)


def _is_beside(words: str, parsed: ParsedLine) -> bool:
    """Whether the words between two phrases only join them, or say what is not of the offer itself."""
    left = words
    for pattern, subject in ELSEWHERE:
        if subject in parsed.elsewhere:
            left = pattern.sub("", left)
    if parsed.unsaid and any(_COUNTED.fullmatch(part.strip()) for part in _without_joints(left)):
        return True
    return all(_JOINTS.fullmatch(part) or part.strip() in ("for", "in", "any of", ":") for part in _parts(left))


def _parts(words: str) -> Iterator[str]:
    yield from re.split(r"(?<=[,;:.])", words)


def _without_joints(words: str) -> Iterator[str]:
    yield words.strip(" ,;.").removesuffix(" for").removeprefix("and ")
