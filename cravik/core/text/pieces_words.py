"""What is counted of a line, in the words of what it is: places, seats, copies of an edition.

A seller can say which word it is; else it is guessed by the noun that the line is named by.

>>> guessed_word("Beach workshop, 12 June"), guessed_word("Linocut “Onshore wind”"), guessed_word("Class set")
('place', 'edition', 'piece')
>>> in_all_words(12, "place"), in_all_words(25, "edition"), left_words(1, "seat"), left_words(4, "piece")
('12 places', 'edition of 25', '1 seat left', '4 left')
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from cravik.core.english import counted
from cravik.core.link.content import LinkContent
from cravik.core.link.limits import CountWord, Limits
from cravik.core.pricing.offer import Line
from cravik.core.pricing.partial_offer import PartialLine

#: One and several of what is counted.
COUNT_WORDS: dict[CountWord, tuple[str, str]] = {
    "piece": ("piece", "pieces"),
    "place": ("place", "places"),
    "seat": ("seat", "seats"),
    "ticket": ("ticket", "tickets"),
    "edition": ("copy", "copies"),
}
_NOUNS: tuple[tuple[CountWord, str], ...] = (
    ("seat", r"seats?"),
    ("ticket", r"tickets?"),
    ("edition", r"editions?|(?:[a-z]+-?)?prints?|lithographs?|etchings?|linocuts?|woodcuts?|giclées?|risographs?"),
    (
        "place",
        r"places?|spots?|slots?|workshops?|courses?|class(?:es)?|masterclass(?:es)?|lessons?|sessions?|retreats?|weekends?"
        r"|tours?|walks?|trips?|camps?|evenings?|mornings?|afternoons?|days?|dinners?|suppers?|lunch(?:es)?|talks?|lectures?"
        r"|seminars?|webinars?|festivals?|conferences?|events?|visits?|tastings?|concerts?|gigs?|shows?|passe?s?"
        r"|adults?|child(?:ren)?|kids?|teens?|teenagers?|students?|seniors?|pensioners?|concessions?|members?|non-members?",
    ),
)
#: After these words a name says more of the thing, and no other thing.
_MORE_OF_IT = re.compile(r"[,:;(–—“”„«»\"]| (?:for|of|in|on|at|with|by|from|to|and|or|without)\b", re.IGNORECASE)


def guessed_word(name: str) -> CountWord:
    """What pieces of a thing of that name are counted in: by the last noun before what is said more of it."""
    words = re.findall(
        r"(?<![\w’'-])[^\W\d_]{2,}(?:[’'-][^\W\d_]+)*(?![\w’'-])", _MORE_OF_IT.split(name, maxsplit=1)[0].lower()
    )
    for word, nouns in _NOUNS:
        if words and re.fullmatch(nouns, words[-1]):
            return word
    return "piece"


def word_of(line: Line | PartialLine, limits: Limits) -> CountWord:
    """What pieces of the line are counted in."""
    return limits.counted_as.get(line.key) or guessed_word(line.name)


def pieces_words(number: int, word: CountWord) -> str:
    """Such as ``12 places``."""
    return counted(number, *COUNT_WORDS[word])


def in_all_words(number: int, word: CountWord) -> str:
    """How many there are, such as ``12 places`` or ``edition of 25``."""
    return f"edition of {number:,}" if word == "edition" else pieces_words(number, word)


def left_words(number: int, word: CountWord) -> str:
    """Such as ``4 places left`` and ``no places left``, or ``4 left`` where they have no word of their own."""
    if word == "piece":
        return f"{number:,} left" if number else "none left"
    return f"{pieces_words(number, word)} left" if number else f"no {COUNT_WORDS[word][1]} left"


def sold_words(link: LinkContent, paid: Mapping[str, int]) -> tuple[str, ...]:
    """How many are sold of each thing of which there are only so many, such as ``14 of 24 places sold``."""
    limits, lines = link.limits, link.offer.lines
    if len(lines) == 1:
        (line,) = lines
        many = COUNT_WORDS[word_of(line, limits)][1]
        return tuple(f"{paid.get(key, 0):,} of {most:,} {many} sold" for key, most in limits.pieces.items())
    bounded = [line for line in lines if line.key in limits.pieces]
    return tuple(f"{line.name}: {paid.get(line.key, 0):,} of {limits.pieces[line.key]:,} sold" for line in bounded)
