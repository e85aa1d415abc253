"""A text under reading: patterns at a place, amounts of its one currency, and names up to where more begins."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from difflib import SequenceMatcher
from functools import lru_cache, wraps
from typing import Any, TypeVar

from babel.numbers import get_currency_symbol

from cravik.core.errors import AmountRefused
from cravik.core.pricing.currency import known_currency, payable_currencies
from cravik.core.pricing.money import Money
from cravik.core.text.amount_text import parse_signed_amount
from cravik.core.text.faults import fault_words

_NUMBER = r"\d{1,3}(?:[.,'’\u00a0\u202f]\d{3})+(?:[.,]\d{1,4})?|\d+(?:[.,]\d{1,4})?"
_WORDS = {"euro": "EUR", "euros": "EUR", "pounds": "GBP", "pound": "GBP"}
#: Signs that several currencies share: they mean the seller's own where that is one of them.
_SHARED = "$£¥"
#: What a name does not begin with: these begin something else that is said of an offer.
KEYWORDS = frozenset(
    (
        "up from until at every each in paid sent posted with suggest suggestions was instead monthly weekly yearly"
        " daily once optional tax then always as only charged if and or for deposit free what not start starting"
        " upto max min maximum minimum least most"
    ).split()
)
#: What stands inside of no name, for it belongs to something that was meant to be read.
_NOT_IN_NAMES = re.compile(
    r"\b(?:up to|at least|at most|every (?:day|week|month|year|\d)|per (?:day|week|month|year)|instalments?|suggest\w*"
    r"|instead of|a pack of|paid once|each from|in equal parts|what (?:the|a)? ?(?:you|buyers?) wants?)\b",
    re.IGNORECASE,
)
_MISSPELT = ("monthly", "weekly", "yearly", "optional", "instalments", "suggest", "included", "posted")
#: Words that lead on to something, and end no name.
_JOINING = frozenset(("and", "or", "in", "of", "for", "from", "at", "with", "a", "the", "to"))
_QUOTED = re.compile(r"[“\"]([^“”\"]{1,120})[”\"]")
MAX_NAME_LENGTH = 120


Read = TypeVar("Read")
Rule = Callable[["Scanner", int], Iterator[tuple[Read, int]]]


#: So many rules may be tried for one text, and so many stand within one another; no sentence comes near it.
MAX_TRIES, MAX_DEPTH = 40_000, 60


class TooMuchToRead(Exception):
    """A text has so many ways to be read that nobody would wait for the answer."""


class Budget:
    """How much may still be tried for a text, over all attempts at reading it."""

    def __init__(self) -> None:
        self.left = MAX_TRIES

    def spend(self) -> None:
        self.left -= 1
        if self.left < 0:
            raise TooMuchToRead


def nearest(read: Iterable[tuple[Read, int]]) -> list[tuple[Read, int]]:
    """What was read first up to each place: of two ways to the same place, the first counts."""
    by_end: dict[int, Read] = {}
    for what, end in read:
        by_end.setdefault(end, what)
    return [(what, end) for end, what in by_end.items()]


def once_a_place(rule: Rule[Read]) -> Rule[Read]:
    """The rule, tried once at each place of a text, whatever comes back to it."""

    @wraps(rule)
    def remembered(scan: Scanner, at: int) -> Iterator[tuple[Read, int]]:
        key = (rule.__qualname__, at)
        if key not in scan.remembered:
            scan.budget.spend()
            if scan.depth > MAX_DEPTH:
                raise TooMuchToRead
            scan.depth += 1
            scan.remembered[key] = nearest(rule(scan, at))
            scan.depth -= 1
        return iter(scan.remembered[key])

    return remembered


class Scanner:
    """``text`` with amounts in ``currency``. Rules are functions of it and a place; each yields what it read and where
    it ended, every way to read it."""

    def __init__(self, text: str, currency: str, budget: Budget | None = None) -> None:
        self.text, self.currency = text, currency
        self.budget, self.depth = budget or Budget(), 0
        #: Why an amount was not taken, by its text.
        self.refused: dict[str, str] = {}
        #: What rules read, by rule and place.
        self.remembered: dict[tuple[str, int], list[tuple[Any, int]]] = {}

    def take(self, pattern: re.Pattern[str], at: int) -> Iterator[tuple[re.Match[str], int]]:
        """The match of the pattern at the place, if there is one."""
        if found := pattern.match(self.text, at):
            yield found, found.end()

    def amount(self, at: int) -> Iterator[tuple[Money, int]]:
        """The amount that stands at the place, with its currency before or after it, if there is one."""
        found = _amount_pattern().match(self.text, at)
        if not found:
            return
        before, number, after = found.group("before"), found.group("number"), found.group("after")
        if before and after:
            return
        try:
            yield parse_signed_amount(number, self.currency), found.end()
        except AmountRefused as refused:
            self.refused[number] = fault_words(refused.faults[0])

    def names(self, at: int, ends: re.Pattern[str]) -> Iterator[tuple[str, int]]:
        """A name from the place to each place at which what may follow begins, the nearest first. Quotes settle it."""
        if quoted := _QUOTED.match(self.text, at):
            yield quoted[1].strip(), quoted.end()
            return
        for end in ends.finditer(self.text, at):
            if end.start() - at > MAX_NAME_LENGTH:
                return
            self.budget.spend()
            name = self.text[at : end.start()].strip()
            if name and is_name(name):
                yield re.sub(r"^(?:an?|the) (?=\S)", "", name), end.start()

    @property
    def end(self) -> int:
        return len(self.text)


def is_name(text: str) -> bool:
    """Whether it can be the name of something, and not of what was meant otherwise."""
    if not any(sign.isalpha() for sign in text) or text[0] in ",.;:)" or ";" in text or _NOT_IN_NAMES.search(text):
        return False
    if text.rpartition(" ")[2] in _JOINING:
        return False
    first, *others = (part.strip() for part in text.split(","))
    word = first.split(" ")[0].lower()
    if word in KEYWORDS or (any(sign.isdigit() for sign in first) and _is_misspelt(word, 0.75)):
        return False
    if " " not in first and _is_misspelt(word, 0.85):
        return False
    return all(_may_stand_in_name(part) for part in others)


@lru_cache(maxsize=4096)
def _is_misspelt(word: str, closeness: float) -> bool:
    """Whether it is all but one of the words with which something else begins."""
    return any(SequenceMatcher(None, word, known).ratio() >= closeness for known in KEYWORDS if len(known) > 3)


@lru_cache(maxsize=4096)
def _may_stand_in_name(part: str) -> bool:
    """Whether a part after a comma may belong to a name: it has no figure, and is no misspelt word of ours."""
    word = part.split(" ")[0].lower()
    if not word or word in KEYWORDS or any(sign.isdigit() for sign in part):
        return False
    return not any(SequenceMatcher(None, word, known).ratio() >= 0.85 for known in _MISSPELT)


@lru_cache(maxsize=1)
def _signs() -> dict[str, str]:
    """The currencies by the signs and codes that the sentence writes, and by a few words."""
    codes = payable_currencies()
    return {get_currency_symbol(code, "en"): code for code in codes} | {code: code for code in codes} | _WORDS


@lru_cache(maxsize=1)
def _amount_pattern() -> re.Pattern[str]:
    signs = "|".join(re.escape(sign) for sign in sorted(_signs(), key=len, reverse=True))
    return re.compile(
        rf"(?P<before>(?:{signs})[ \u00a0]?)?(?P<number>{_NUMBER})(?P<after>[ \u00a0]?(?:{signs})(?!\w))?"
        r"(?![\w%]|[.,'’]\d|\s?%)"
    )


def currencies_named(text: str, usual: str) -> list[str]:
    """The currencies that the amounts of the text name, each once; ``usual`` is the seller's own."""
    found = []
    for match in _amount_pattern().finditer(text):
        sign = (match.group("before") or match.group("after") or "").strip(" \u00a0")
        if sign:
            found.append(_meant(sign, usual))
    return list(dict.fromkeys(found))


def _meant(sign: str, usual: str) -> str:
    if sign in _SHARED and sign in get_currency_symbol(usual, "en"):
        return usual
    return known_currency(sign) or _signs()[sign]
