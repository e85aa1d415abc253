"""Pieces: what rules read of a line, each with the words that it covers and how well it fits.

A subject of the grammar is one file in ``subjects`` with its ``Rule`` rows; the registry lists it once.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, time
from functools import cached_property
from typing import Any
from zoneinfo import ZoneInfo

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import WHOLE, Percent
from cravik.core.pricing.schedule import Every
from cravik.core.text.said.days import NoDay, read_clock, read_day
from cravik.core.text.said.lexing import Lexed, Token
from cravik.core.text.said.patterns import compiled, group_name
from cravik.core.text.said.words import ENGLISH, Words

MAX_COUNT = 1_000_000_000


class NotSo(Exception):
    """What is said cannot be; the text says why, in a sentence."""


class Unsuited(Exception):
    """The words fit the pattern, but mean something else."""


@dataclass(frozen=True)
class When:
    """What a line is read at: the seller's ``zone`` and ``today`` there, and ``now`` where the hour is known."""

    today: date
    zone: ZoneInfo
    now: datetime | None = None

    def instant(self, day: date, clock: time = time()) -> datetime:
        return datetime.combine(day, clock, self.zone)


@dataclass(frozen=True)
class Choice:
    """One answer to a question: its words, and the line that says so."""

    words: str
    line: str


@dataclass(frozen=True)
class Doubt:
    """Something with more than one sensible reading: the words ``about`` which it is asked, the ``question``, and what
    can be meant."""

    about: str
    question: str
    choices: tuple[Choice, ...]

    @property
    def names_it(self) -> bool:
        """Whether the question has the words already."""
        return self.about in self.question


@dataclass(slots=True)
class Piece:
    """What a rule read of the tokens from ``start`` up to ``end``. ``wrong`` says why it can't be so; ``doubts`` are
    what has to be asked about it. ``role`` is what the assembly does with it."""

    role: str
    start: int
    end: int
    value: Any
    score: float
    wrong: str = ""
    doubts: list[Doubt] = field(default_factory=list)
    #: What was made of it, in words; see ``made``.
    words: str = ""


class Line:
    """A line under reading: its tokens, and when it is read."""

    def __init__(self, lexed: Lexed, when: When, words: Words = ENGLISH) -> None:
        self.lexed, self.when, self.words = lexed, when, words
        self.tokens, self.currency = lexed.tokens, lexed.currency

    def text(self, start: int, end: int) -> str:
        """The words of the tokens, as they were typed."""
        return self.lexed.text[self.tokens[start].start : self.tokens[end - 1].end] if end > start else ""

    def replaced(self, start: int, end: int, by: str) -> str:
        """The line with other words in the tokens' place."""
        text = self.lexed.text
        before, after = text[: self.tokens[start].start], text[self.tokens[end - 1].end :]
        return re.sub(r" (?=[,;])", "", " ".join(f"{before}{by}{after}".split()))

    def word(self, place: int) -> str:
        return self.tokens[place].word if 0 <= place < len(self.tokens) else ""

    @cached_property
    def _at(self) -> dict[int, int]:
        return {offset: place for place, offset in enumerate(self.lexed.offsets)}

    def match(self, expression: re.Pattern[str], place: int) -> Got | None:
        found = expression.match(self.lexed.shadow, self.lexed.offsets[place])
        return Got(self, found, self._at) if found and found.end() > found.start() else None


class Got:
    """What a pattern matched, slot by slot."""

    def __init__(self, line: Line, found: re.Match[str], at: dict[int, int]) -> None:
        self.line, self._found, self._at = line, found, at
        self.start, self.end = at[found.start()], at[found.end()]
        self.doubts: list[Doubt] = []

    def _group(self, name: str) -> str | None:
        """The group of the name that was matched."""
        number = 0
        while (group := group_name(name, number)) in self._found.re.groupindex:
            if self._found[group] is not None:
                return group
            number += 1
        return None

    def __contains__(self, name: str) -> bool:
        return self._group(name) is not None

    def tokens(self, name: str) -> Sequence[Token]:
        first, last = self.span(name)
        return self.line.tokens[first:last]

    def span(self, name: str) -> tuple[int, int]:
        group = self._group(name)
        if group is None:
            raise KeyError(name)
        return self._at[self._found.start(group)], self._at[self._found.end(group)]

    def text(self, name: str) -> str:
        return self.line.text(*self.span(name))

    def is_of_price(self, name: str) -> bool:
        """Whether it is more of what the price was said for one of: ``jars``, where “a jar” was."""
        one = self.word(name).removesuffix("s")
        is_many = one != self.word(name) or one in self.line.words.classes["measure"]
        return is_many and any(f" {per} {one} " in self.line.lexed.shadow for per in ("a", "per", "an", "/"))

    def word(self, name: str) -> str:
        group = self._group(name)
        return self._found[group].strip() if group else ""

    def amount(self, name: str = "amount") -> Money:
        """Raises ``NotSo`` where the number is no sum of money."""
        number = self.tokens(name)[0].number
        if number is None or number.money is None:
            raise NotSo(number.why if number and number.why else "That is not an amount.")
        return number.money

    def count(self, name: str = "count", least: int = 1) -> int:
        """A whole number, in figures or as a word."""
        token = self.tokens(name)[0]
        number = token.number.whole if token.number else self.line.words.numbers.get(token.word)
        if number is None:
            raise Unsuited
        if not least <= number <= MAX_COUNT:
            raise NotSo(f"“{token.text}” can't be: the least is {least}.")
        return number

    def percent(self, name: str = "percent") -> Percent:
        token = self.tokens(name)[0]
        try:
            percent = Percent.parse(token.number.percent if token.number else "")
        except Exception as error:
            raise NotSo(f"“{token.text}” is not a percentage.") from error
        if not 0 < percent.ten_thousandths <= WHOLE:
            raise NotSo(f"“{token.text}” is more than all of it." if percent.ten_thousandths else "That is nothing.")
        return percent

    def every(self, count: str | None, unit: str) -> Every:
        """The step of ``2 weeks`` or ``a month``."""
        many = 1 if count is None or self.word(count) in ("a", "an") else self.count(count)
        return self._unit(self.word(unit), many)

    def span_of(self, name: str = "span") -> Every:
        """``14 days``, ``a week``."""
        first, second = self.tokens(name)
        number = first.number.whole if first.number else self.line.words.numbers.get(first.word, 1)
        if not number:
            raise NotSo(f"“{self.text(name)}” can't be: the least is 1.")
        return self._unit(second.word, number)

    def cadence(self, name: str = "cadence") -> Every:
        count, unit = self.line.words.cadences[self.word(name)]
        return Every(count, unit)  # type: ignore[arg-type]

    def _unit(self, word: str, many: int) -> Every:
        count, unit = self.line.words.spans[word]
        return Every(count * many, unit)  # type: ignore[arg-type]

    def day(self, name: str = "day", *, over: bool = False) -> date:
        """The day; asked about where numbers can mean two. ``over``: it may have passed."""
        try:
            read = read_day(self.tokens(name), self.line.when.today, self.line.words)
        except NoDay as error:
            raise NotSo(str(error)) from error
        if read.other:
            first, last = self.span(name)
            choices = tuple(Choice(words, self.line.replaced(first, last, words)) for words in read.choices)
            self.doubts.append(Doubt(self.text(name), "Which day is it?", choices))
        elif read.day < self.line.when.today and not over:
            raise NotSo(f"{read.day.day} {read.day:%B %Y} is over.")
        return read.day

    def clock(self, name: str = "clock") -> time:
        return read_clock(self.tokens(name)[0])


Make = Callable[[Got], Any]


@dataclass(frozen=True)
class Rule:
    """A pattern, what it makes of its slots, and how well each of its words fits (1: as well as can be)."""

    role: str
    pattern: str
    make: Make
    weight: float = 1.0

    def read(self, line: Line, place: int) -> Iterator[Piece]:
        got = line.match(compiled(self.pattern, line.words).expression, place)
        if got is None:
            return
        many = got.end - got.start
        try:
            value, wrong = self.make(got), ""
        except Unsuited:
            return
        except NotSo as error:
            value, wrong = None, str(error)
        yield Piece(self.role, got.start, got.end, value, self.weight * many - 0.1, wrong, got.doubts)


@dataclass(frozen=True)
class Search:
    """A rule that goes from word to word itself, such as for lists; ``first`` are the words that it begins with."""

    read: Callable[[Line, int], Iterator[Piece]]
    first: frozenset[str]


def earliest(pieces: Sequence[Piece], role: str) -> Piece | None:
    return next((piece for piece in pieces if piece.role == role), None)


def at_or_before(starts: Sequence[int], place: int) -> int:
    """The position of the last of the rising ``starts`` that is not after the place, or 0."""
    return max(bisect_left(starts, place + 1) - 1, 0)
