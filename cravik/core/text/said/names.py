"""The words between pieces, as names: runs of words, parted by signs, without the words that only join."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from cravik.core.text.said.covering import SEPARATORS
from cravik.core.text.said.pieces import Line, Piece

MAX_NAME_LENGTH = 120
_AGED = re.compile(r"\b(?:(?:under|over)[ -]\d+s?|\d+ and (?:under|over))$")


@dataclass(slots=True)
class Item:
    """A name, a piece, or what joins two of them: a sign or words such as ``and``."""

    kind: str
    start: int
    end: int
    joins: tuple[str, ...] = ()
    piece: Piece | None = None

    @property
    def role(self) -> str:
        return self.piece.role if self.piece else ""


def items(line: Line, way: Sequence[Piece]) -> list[Item]:
    """The line in its order: names, pieces and what joins them."""
    found: list[Item] = []
    run: list[int] = []
    place, pieces = 0, {piece.start: piece for piece in way}
    while place < len(line.tokens):
        piece = pieces.get(place)
        if piece is not None and piece.role == "name":
            run += range(piece.start, piece.end)
        elif piece is not None or line.word(place) in SEPARATORS:
            found += _of_run(line, run)
            run = []
            found.append(
                Item("piece", piece.start, piece.end, piece=piece)
                if piece
                else Item("join", place, place + 1, (line.word(place),))
            )
        else:
            run.append(place)
        place = piece.end if piece is not None else place + 1
    return [*found, *_of_run(line, run)]


def _of_run(line: Line, run: list[int]) -> Iterator[Item]:
    """The name in a run of words; the joining words before and after it stand alone."""
    first, last = 0, len(run)
    joining = line.words.joining if run and run[0] else frozenset(("a", "an", "the", "for"))
    while first < last and line.word(run[first]) in joining:
        first += 1
    while last > first and line.word(run[last - 1]) in line.words.joining | line.words.ending:
        last -= 1
    if first == last and run and line.word(run[0] - 1) in ("|", "/", ",") and line.word(run[0]) in line.words.levels:
        first, last = 0, len(run)  # the level called “plus”
    if first:
        yield Item("join", run[0], run[first - 1] + 1, tuple(line.word(place) for place in run[:first]))
    if first < last:
        yield Item("name", run[first], run[last - 1] + 1)
    if last < len(run):
        yield Item("join", run[last], run[-1] + 1, tuple(line.word(place) for place in run[last:]))


def name_of(line: Line, start: int, end: int) -> str:
    """The words as a name: without quotes around it and an article before it; with a bracket that it opened."""
    if end < len(line.tokens) and line.word(end) == ")":
        opened = sum(line.word(place) == "(" for place in range(start, end))
        if opened > sum(line.word(place) == ")" for place in range(start, end)):
            end += 1
    text = line.text(start, end).strip(" ,;:—–-")
    if end - start == 1 and line.word(start) == "“”":
        return text[1:-1].strip()
    words = text.split(" ")
    if len(words) > 1 and words[0].lower() in ("a", "an", "the"):
        words = words[1:]
    return re.sub(r"[“”]|(?<!\d)\"", "", " ".join(words))[:MAX_NAME_LENGTH].strip()


def is_telling(line: Line, start: int, end: int) -> bool:
    """Whether it begins or ends with a word of the grammar: something else was meant than a name. What stands last in
    brackets does not count: ``Reading (30 min)``."""
    if end <= start:
        return False
    of_price = line.word(start) in line.words.spans and line.word(start - 1) in line.words.classes["per"]
    ends = {line.word(start)} if line.word(end) == ")" else {line.word(start), line.word(end - 1)}
    return of_price or bool(ends & line.words.telling)


def is_times(line: Line, start: int, end: int) -> bool:
    """``3 x``, of “3 x 69”."""
    return end - start > 1 and line.word(end - 1) in ("x", "×") and line.tokens[end - 2].number is not None


def are_counted_alike(names: Sequence[str]) -> bool:
    """``portrait, 1 pet`` and ``2 pets``."""
    ends = [
        re.search(r"(?:^| )\d+ ([^\W\d]+)$" if not number else r"^\d+ ([^\W\d]+)$", name.casefold())
        for number, name in enumerate(names)
    ]
    return len({found[1].removesuffix("s") if found else str(place) for place, found in enumerate(ends)}) == 1


def is_people(line: Line, name: str) -> bool:
    """``adults``, ``Entry children``, ``under 16s``."""
    words = [word.strip("()").casefold() for word in name.split()]
    is_aged = _AGED.search(name.casefold()) is not None
    return (is_aged or any(word in line.words.people for word in words)) and len(words) <= 3


def is_level(line: Line, name: str) -> bool:
    """Whether it is one of several to pick from by itself: ``small``, ``adult``, or a measure such as ``half hr``."""
    return is_level_word(line, name) or is_measure(line, name)


def is_level_word(line: Line, name: str) -> bool:
    words, plain = line.words, name.casefold()
    return plain in words.levels or plain in words.sizes or plain in words.people or _AGED.fullmatch(plain) is not None


def is_measure(line: Line, name: str) -> bool:
    """``60 min``, ``half hr``, ``1kg``."""
    found = re.fullmatch(r"([\d.,]+|[^\W\d]+ )\s?([^\W\d]+)", name.casefold())
    if found is None or found[2] not in line.words.classes["measure"]:
        return False
    number = found[1].strip()
    return number[0].isdigit() or number == "half" or number in line.words.numbers


def shared_end(names: Sequence[str]) -> str:
    """The last word that all have: ``edit`` of “Standard edit” and “express edit”; empty without one."""
    last = {name.split()[-1].casefold() for name in names}
    return names[0].split()[-1].capitalize() if len(last) == 1 and all(" " in name for name in names) else ""
