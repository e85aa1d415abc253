"""The grammar's patterns: words, classes of words and slots, compiled to expressions over a line's shadow.

``<until>`` is any phrase of that class, ``{amount}`` a slot, ``word`` a word; each can have a name of its own
(``{amount:was}``, ``<per:step>``, ``orders:unit``). ``[…]`` may be missing, ``(a | b)`` is one of them; brackets of the
line itself are ``LP`` and ``RP``.

>>> compiled("<until> {day} [[at] {clock}]").first >= {"until", "till"}
True
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache

from cravik.core.text.said.words import ENGLISH, Words

#: First words of a pattern that may begin with any word.
ANY = "*"
_AMOUNT, _COUNT = ("¤", "#", "#y", "#."), ("#", "#y")


@dataclass(frozen=True)
class Compiled:
    """A pattern; ``first`` are the words with which it can begin."""

    expression: re.Pattern[str]
    first: frozenset[str]


def group_name(name: str, number: int) -> str:
    return f"{name}__{number}" if number else name


def _either(phrases: tuple[str, ...] | list[str]) -> str:
    return "(?:" + "|".join(re.escape(phrase).replace(r"\ ", " ") + " " for phrase in phrases) + ")"


@cache
def _slots(words: Words) -> dict[str, tuple[str, frozenset[str]]]:
    """Each slot's expression and the words with which it can begin."""
    numbers, units = list(words.numbers), sorted(words.spans, key=len, reverse=True)
    months, days = sorted(words.months, key=len, reverse=True), sorted(words.weekdays, key=len, reverse=True)
    amount, count = _either(list(_AMOUNT)), _either([*_COUNT, *numbers])
    month, weekday, year = _either(months), _either(days), "(?:(?:, )?#y )?"
    span = f"(?:{_either([*_COUNT, *numbers, 'a', 'an'])}{_either(units)})"
    number = "(?:#th |# )"
    day = (
        f"(?:(?:{weekday}(?:, )?)?(?:the )?{number}(?:of )?{month}{year}"
        f"|(?:{weekday}(?:, )?)?{month}(?:the )?{number}{year}"
        f"|dd |# / # (?:/ (?:# |#y ))?|#y — # — # "
        f"|(?:this |next |coming )?{weekday}(?:next |week )?"
        f"|(?:today |tomorrow |tonight |yesterday |christmas eve |christmas day |christmas "
        f"|new year's eve |new year's day )"
        f"|(?:the )?end of (?:the |this )?(?:{_either(['month', 'year', 'week'])}|{month}{year}))"
    )
    begins_day = frozenset((*_COUNT, "#th", "the", "dd", *months, *days, "this", "next", "coming", "end"))
    begins_day |= {"today", "tomorrow", "tonight", "yesterday", "christmas", "new"}
    return {
        "amount": (amount, frozenset(_AMOUNT)),
        "money": (_either(["¤"]), frozenset(("¤",))),
        "bare": (_either(["#", "#y", "#."]), frozenset(("#", "#y", "#."))),
        "count": (count, frozenset((*_COUNT, *numbers))),
        "unit": (_either(["#", "#."]), frozenset(("#", "#."))),
        "year": (_either(["#y"]), frozenset(("#y",))),
        "whole": (_either(["#", "#y", "#."]), frozenset(("#", "#y", "#."))),
        "many": (_either(["#+"]), frozenset(("#+",))),
        "less": (_either(["-#"]), frozenset(("-#",))),
        "ordinal": (_either(["#th"]), frozenset(("#th",))),
        "percent": (_either(["%"]), frozenset("%")),
        "span": (span, frozenset((*_COUNT, *numbers, "a", "an"))),
        "period": (_either(units), frozenset(units)),
        "cadence": (_either(list(words.cadences)), frozenset(words.cadences)),
        "day": (day, begins_day),
        "clock": ("(?:hh |noon |midday |midnight )", frozenset(("hh", "noon", "midday", "midnight"))),
        "noun": (r"(?:[^\W\d_][\w'’-]* )", frozenset((ANY,))),
        "code": (r"(?:[^\W_][\w-]* )", frozenset((ANY,))),
        "quote": ("(?:“” )", frozenset(("“”",))),
    }


def compiled(pattern: str, words: Words = ENGLISH) -> Compiled:
    """The pattern as an expression. Raises ``KeyError`` for a class or slot that there is not."""
    return _compiled(pattern, words)


@cache
def _compiled(pattern: str, words: Words) -> Compiled:
    parser = _Parser(re.findall(r"<\w+(?::\w+)?>|\{\w+(?::\w+)?\}|[\[\]()|]|[^\s\[\]()|]+", pattern), words)
    expression, first, _ = parser.choice()
    return Compiled(re.compile(expression), frozenset(first))


class _Parser:
    def __init__(self, atoms: list[str], words: Words) -> None:
        self.atoms, self.words, self.place = atoms, words, 0
        self._named: dict[str, int] = {}

    def _group(self, name: str, inner: str) -> str:
        """A group of that name; of several, the later ones have a number."""
        self._named[name] = number = self._named.get(name, -1) + 1
        return f"(?P<{group_name(name, number)}>{inner})"

    def choice(self) -> tuple[str, set[str], bool]:
        """Alternatives up to a closing bracket: the expression, the first words, and whether it can be nothing."""
        options = [self.sequence()]
        while self._next() == "|":
            self.place += 1
            options.append(self.sequence())
        first = set().union(*(words for _, words, _ in options))
        return "(?:" + "|".join(each for each, _, _ in options) + ")", first, any(empty for _, _, empty in options)

    def sequence(self) -> tuple[str, set[str], bool]:
        parts: list[str] = []
        first: set[str] = set()
        empty = True
        while (atom := self._next()) and atom not in ("|", "]", ")"):
            self.place += 1
            expression, begins, may_miss = self.atom(atom)
            parts.append(expression)
            if empty:
                first |= begins
            empty = empty and may_miss
        return "".join(parts), first, empty

    def atom(self, atom: str) -> tuple[str, set[str], bool]:
        if atom in "[(":
            inner, first, empty = self.choice()
            self.place += 1
            return (f"(?:{inner})?", first, True) if atom == "[" else (inner, first, empty)
        if found := re.fullmatch(r"<(\w+)(?::(\w+))?>", atom):
            phrases = self.words.classes[found[1]]
            inner = _either(phrases)
            named = self._group(found[2], inner) if found[2] else inner
            return named, {phrase.split(" ")[0] for phrase in phrases}, False
        if found := re.fullmatch(r"\{(\w+)(?::(\w+))?\}", atom):
            inner, begins = _slots(self.words)[found[1]]
            return self._group(found[2] or found[1], inner), set(begins), False
        if found := re.fullmatch(r"(\w+):(\w+)", atom):
            return self._group(found[2], re.escape(found[1]) + " "), {found[1]}, False
        word = {"\\(": "(", "\\)": ")", "\\[": "["}.get(atom, atom).replace("LP", "(").replace("RP", ")")
        return re.escape(word) + " ", {word}, False

    def _next(self) -> str:
        return self.atoms[self.place] if self.place < len(self.atoms) else ""
