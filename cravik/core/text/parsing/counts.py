"""How many there are in all and how many one buyer may have, as it is said: ``12 places``, ``edition of 25``.

What is counted is told by the name of its thing, such as ``12 places for Adult and 8 places for Child``, or by none
where there is one thing alone.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from cravik.core.link.limits import CountWord, Limits
from cravik.core.text.parsing.scanner import Scanner
from cravik.core.text.pieces_words import COUNT_WORDS, guessed_word

_NUMBER = r"(?P<number>\d{1,3}(?:,\d{3})+|\d{1,9})"
_WORDS: dict[str, CountWord | None] = {
    **{each: word for word, both in COUNT_WORDS.items() for each in both},
    **dict.fromkeys(("spot", "spots", "slot", "slots", "couples", "people"), "place"),
    **dict.fromkeys(("in stock", "available", "left"), None),
}
_WORD = rf"(?P<word>{'|'.join(sorted(_WORDS, key=len, reverse=True))})"
_EACH_BUYER = r" (?:a|per|each) (?:buyer|person|customer|household|head)\b"
_NOT_EACH = rf"(?!{_EACH_BUYER})"
_ENDS = re.compile(r" and (?=\d)|[;,] |\.?$")
_FOR, _AND = re.compile(r" for (?=\S)"), re.compile(r" and ")
_ORDERS = re.compile(rf"(?:up to |at most )?{_NUMBER} orders?(?: in all)?\b{_NOT_EACH}", re.IGNORECASE)
_ORDERS_EACH = re.compile(rf"(?:at most |max\.? |up to )?{_NUMBER} orders?{_EACH_BUYER}", re.IGNORECASE)
_PIECES = re.compile(
    rf"(?:only |just )?{_NUMBER} {_WORD}(?: in all| in total| left| available| max| only)?\b{_NOT_EACH}", re.IGNORECASE
)
_EDITION = re.compile(rf"(?:a )?(?:limited )?edition of {_NUMBER}\b", re.IGNORECASE)
_PIECES_EACH = re.compile(rf"(?:at most|max\.?|maximum|up to) {_NUMBER}(?: {_WORD})?{_EACH_BUYER}", re.IGNORECASE)
#: Only after another: ``12 places for Adult and 8 for Child``.
_BARE = re.compile(rf"{_NUMBER}(?= for )")

#: The name of a thing (or nothing), how many of it, and what they were called, if by a word of their own.
Counts = tuple[tuple[str, int, CountWord | None], ...]


@dataclass(frozen=True)
class ParsedCounts:
    """What was said to be counted."""

    orders: int | None = None
    orders_per_buyer: int | None = None
    pieces: Counts = ()
    pieces_per_buyer: Counts = ()


NOTHING_COUNTED = ParsedCounts()


def counts(scan: Scanner, at: int, had: ParsedCounts) -> Iterator[tuple[ParsedCounts, int]]:
    """Every way to read one thing that is counted at the place, added to what was said before."""
    if had.orders_per_buyer is None:
        for found, end in scan.take(_ORDERS_EACH, at):
            yield replace(had, orders_per_buyer=_number(found)), end
    if had.orders is None:
        for found, end in scan.take(_ORDERS, at):
            yield replace(had, orders=_number(found)), end
    if not had.pieces_per_buyer:
        for parsed, end in _of_things(scan, at, _PIECES_EACH):
            yield replace(had, pieces_per_buyer=parsed), end
    if not had.pieces:
        for parsed, end in _of_things(scan, at, _EDITION, _PIECES):
            yield replace(had, pieces=parsed), end


def _of_things(scan: Scanner, at: int, *patterns: re.Pattern[str]) -> Iterator[tuple[Counts, int]]:
    for pattern in patterns:
        for found, end in scan.take(pattern, at):
            word = "edition" if pattern is _EDITION else _WORDS[(found.groupdict().get("word") or "left").lower()]
            for _, begin in scan.take(_FOR, end):
                for name, last in scan.names(begin, _ENDS):
                    for _, after in scan.take(_AND, last):
                        for more, further in _of_things(scan, after, *patterns, _BARE):
                            yield ((name, _number(found), word), *more), further
                    yield ((name, _number(found), word),), last
            yield (("", _number(found), word),), end


def limits_of(parsed: ParsedCounts, names: Sequence[str]) -> Limits | None:
    """What was said, by the keys of lines of those names (``line-1`` …); None where nobody can tell of which it is."""
    pieces, for_one = _by_line(parsed.pieces, names), _by_line(parsed.pieces_per_buyer, names)
    if pieces is None or for_one is None:
        return None
    words = {
        key: word
        for key, (name, _, word) in {**for_one, **pieces}.items()
        if word is not None and word != guessed_word(name)
    }
    return Limits(
        orders=parsed.orders,
        orders_per_buyer=parsed.orders_per_buyer,
        pieces={key: number for key, (_, number, _) in pieces.items()},
        pieces_per_buyer={key: number for key, (_, number, _) in for_one.items()},
        counted_as=words,
    )


def _by_line(parsed: Counts, names: Sequence[str]) -> dict[str, tuple[str, int, CountWord | None]] | None:
    places = {name.casefold(): place for place, name in enumerate(names)}
    found: dict[str, tuple[str, int, CountWord | None]] = {}
    for name, number, word in parsed:
        place = places.get(name.casefold()) if name else 0 if len(names) == 1 else None
        if place is None or f"line-{place + 1}" in found:
            return None
        found[f"line-{place + 1}"] = (names[place], number, word)
    return found


def _number(found: re.Match[str]) -> int:
    return int(found["number"].replace(",", ""))
