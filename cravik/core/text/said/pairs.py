"""Names and prices put together in the order of a line, before it is told what they are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from cravik.core.text.said.covering import SEPARATORS
from cravik.core.text.said.draft import Draft, SaidPrice
from cravik.core.text.said.names import Item
from cravik.core.text.said.pieces import Line, Piece


@dataclass
class Pair:
    """A price and the names that it is of, what joined them to the one before, and how the name stands to its price."""

    names: list[Item]
    piece: Piece
    joins: frozenset[str]
    label: Item | None = None
    optional: bool = False
    #: Whether the price stands before its name.
    price_first: bool = False

    @property
    def price(self) -> SaidPrice:
        return self.piece.value  # type: ignore[no-any-return]

    @property
    def start(self) -> int:
        return min([self.piece.start, *(item.start for item in self.names)])

    @property
    def end(self) -> int:
        return max([self.piece.end, *(item.end for item in (*self.names, *([self.label] if self.label else [])))])

    @property
    def is_extra(self) -> bool:
        return self.optional or self.price.extra or self.price.once


@dataclass
class Paired:
    pairs: list[Pair] = field(default_factory=list)
    title: list[Item] = field(default_factory=list)
    #: Names without a price yet.
    pending: list[Item] = field(default_factory=list)
    strays: list[Item] = field(default_factory=list)


def paired_in(draft: Draft, stream: Sequence[Item]) -> Paired:
    """Names and prices in the order of the line."""
    line, found = draft.line, Paired()
    joins: set[str] = set()
    is_next_optional = False
    for number, item in enumerate(stream):
        if item.kind == "join":
            joins |= set(item.joins)
        elif item.kind == "name":
            _named(draft, found, item, stream, number, joins)
        elif item.role == "price" and item.piece is not None and not item.piece.wrong:
            if found.pending and not found.pairs and _is_title(line, found.pending[-1], item):
                found.title, found.pending = found.pending, []
            pair = Pair(found.pending, item.piece, frozenset(joins), price_first=not found.pending)
            pair.optional, is_next_optional = is_next_optional, False
            found.pairs.append(pair)
            found.pending = []
            joins = set()
        elif item.role == "optional":
            if _is_of_next(found, stream, number):
                is_next_optional = True
            elif found.pairs:
                found.pairs[-1].optional = True
    _name_after(line, found)
    if found.pairs:
        found.strays += found.pending
        found.pending = []
    found.strays += [item for number, item in enumerate(stream) if _dangles(line, stream, number)]
    return found


def _name_after(line: Line, found: Paired) -> None:
    """What stands after its price: ``Kayak 15 half day, 25 full day``, ``Room €48 shared €62 single``."""
    pairs = found.pairs
    if len(pairs) < 2 or found.title or not pairs[0].names:
        return
    if pairs[0].is_extra or any(pair.price.each or pair.price.regular or pair.label for pair in pairs):
        return
    after = [*(pair.names for pair in pairs[1:]), found.pending]
    ends = [*(pair.piece.start for pair in pairs[1:]), None]
    are_sums = all(line.word(pair.piece.start) == "¤" for pair in pairs)
    if not (are_sums and all(map(_is_beside, [line] * len(pairs), pairs, after))):
        after = [
            names if _is_beside(line, pair, names) and _is_closed(line, names[0], end) else []
            for pair, names, end in zip(pairs, after, ends, strict=True)
        ]
    before = [[], *after[:-1]]
    own = [pair.names[bool(taken) :] for pair, taken in zip(pairs, before, strict=True)]
    if not after[0] or not all(names or kept for names, kept in zip(after, own, strict=True)):
        return
    found.title = pairs[0].names
    found.pending = found.pending[bool(after[-1]) :]
    for pair, names, kept in zip(pairs, after, own, strict=True):
        pair.names, pair.price_first = names[:1] or kept, bool(names)


def _is_beside(line: Line, pair: Pair, names: Sequence[Item]) -> bool:
    """Whether the first of the names stands behind the price, with no sign between."""
    return bool(names) and not _is_parted(line, pair.piece.end, names[0].start)


def _is_closed(line: Line, name: Item, price: int | None) -> bool:
    """Whether a sign parts the name from the price that follows, or none does."""
    return price is None or _is_parted(line, name.end, price)


def _is_parted(line: Line, start: int, end: int) -> bool:
    return any(line.word(place) in SEPARATORS for place in range(start, end))


def _is_title(line: Line, name: Item, price: Item) -> bool:
    """Whether the name before a price is that of several things: ``Fair: 5 for a sticker``."""
    return line.word(price.end) == "for" and ":" in [line.word(place) for place in range(name.end, price.start)]


def _dangles(line: Line, stream: Sequence[Item], number: int) -> bool:
    """Whether it is a word that joins what stands before it to nothing: ``48 for a kite and``."""
    item = stream[number]
    if item.kind != "join" or not item.joins[-1][0].isalpha():
        return False
    if set(item.joins) & line.words.ending:
        return True
    return line.word(item.end) in ("", ",", ";", ".", ")", "(", ":", "!", "?")


def _is_of_next(found: Paired, stream: Sequence[Item], number: int) -> bool:
    """Whether “if wanted” speaks of what follows: it stands before its name or its price."""
    if found.pending:
        return True
    before = stream[number - 1] if number else None
    if before is not None and before.role == "price":
        beside = stream[number + 1] if number + 1 < len(stream) else None
        return beside is not None and (beside.kind == "name" or beside.role == "price")
    follows = next((each for each in stream[number + 1 :] if each.kind != "join"), None)
    return follows is not None and (follows.kind == "name" or follows.role == "price")


def _named(draft: Draft, found: Paired, item: Item, stream: Sequence[Item], number: int, joins: set[str]) -> None:
    """A name goes to the price before it that has none yet, labels one in brackets, or waits for its price."""
    last = found.pairs[-1] if found.pairs else None
    line = draft.line
    in_brackets = line.word(item.start - 1) == "(" and line.word(item.end) == ")"
    follows = next((each for each in stream[number + 1 :] if each.kind != "join"), None)
    has_own = follows is not None and follows.role == "price" and line.word(item.end) not in (",", ";", ")", ".")
    opened = last is not None and line.word(last.piece.start - 1) == "(" and line.word(item.end) == ")"
    if last is not None and in_brackets and item.start - 1 == last.piece.end and not has_own:
        last.label = item
    elif last is not None and opened and not last.names and item.start == last.piece.end:
        last.names, last.price_first = [item], True  # “(£4 concessions)”
    elif last is not None and _takes_name_after(found.pairs) and (not has_own or "for" in joins or not joins):
        last.names = [item]
        joins.clear()
    else:
        found.pending.append(item)


def _takes_name_after(pairs: Sequence[Pair]) -> bool:
    """Whether the last price has its name still to come: where names follow their prices, they do so from the first."""
    if pairs[-1].names:
        return False
    return pairs[-1].price.extra or (pairs[0].price_first and all(pair.names for pair in pairs[:-1]))
