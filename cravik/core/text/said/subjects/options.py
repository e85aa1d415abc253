"""Options: “in red or blue”, “S/M/L”, “sizes 5-12”, “XL (+2)”, and what each adds."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from cravik.core.pricing.money import Money
from cravik.core.pricing.options import Option, OptionGroup
from cravik.core.text.money_text import format_money
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.names import name_of
from cravik.core.text.said.patterns import ANY, compiled
from cravik.core.text.said.pieces import Got, Line, NotSo, Piece, Rule, Search, Unsuited

MAX_OPTIONS, MAX_GROUPS = 24, 4
_MAX_WORDS = 4
_ADDS = compiled(
    "(LP + {amount} [each | extra | more] RP | + {amount} | LP {less} RP | LP"
    " {amount:more} (more | extra) RP | LP {amount:off} less RP | {amount:more} (more |"
    " extra))"
)
_INTRODUCED, _ONLY = compiled("<colour> [:]"), compiled("only")
_MEASURED = compiled("(# | #. | #y) [(~ | x | —) (# | #.)] [<measure>]")
_DATED = compiled("({day} [[,] [at] {clock}] | {clock})")
_PAPER = frozenset(f"{letter}{number}" for letter in "ab" for number in range(8)) | {"os", "one size"}


@dataclass(frozen=True)
class _Item:
    name: str
    end: int
    add: Money | None
    known: bool
    #: Whether it is more than a number alone.
    telling: bool = True


def _introduced(line: Line, place: int) -> Iterator[Piece]:
    """``in S, M or L``, ``sizes 8, 10, 12``, ``in oak only``."""
    got = line.match(_INTRODUCED.expression, place)
    if got is None:
        return
    for found in _lists(line, got.end, slashes=True):
        if not found[0].telling and line.word(found[-1].end - 1) in line.words.generic:
            continue  # “in 11 or 10 classes for 95”: prices
        sure = all(item.known for item in found) or any(
            line.word(place) == "or" for place in range(place, found[-1].end)
        )
        yield _piece(line, place, found, 0.8 if sure else 0.6)
        if longer := _in_brackets(line, found):
            yield longer_piece(_piece(line, place, longer, 0.8))
    for item in _items(line, got.end):
        if only := line.match(_ONLY.expression, item.end):
            group = OptionGroup(_group_name([item]), (Option(item.name, item.add),))
            yield Piece("options", place, only.end, group, only.end - place - 0.1)


def _in_brackets(line: Line, items: list[_Item]) -> list[_Item] | None:
    """The list with a last one in brackets: ``s, m, l (xl +2)``."""
    end = items[-1].end
    if line.word(end) != "(" or items[-1].add is not None:
        return None
    for item in _items(line, end + 1):
        if item.add is not None and line.word(item.end) == ")":
            return [*items, item]
    return None


def longer_piece(piece: Piece) -> Piece:
    """The piece with the bracket that closes it."""
    piece.end += 1
    piece.score += 1
    return piece


def _in_a_row(line: Line, place: int) -> Iterator[Piece]:
    """``S M L XL``, ``S M L, XL +2``: what adds to the price stands last."""
    introduced = line.match(_INTRODUCED.expression, place)
    begin = end = introduced.end if introduced else place
    while line.word(end) in line.words.sizes:
        end += 1
    if end - begin < 2:
        return
    row = [_Item(line.text(each, each + 1), each + 1, None, True) for each in range(begin, end)]
    last = _with_add(line, end - 1, end, known=True)
    yield _piece(line, place, [*row[:-1], last], 1.0)
    after, _ = _next(line, end, slashes=False)
    for item in _items(line, after) if after else ():
        if item.known and item.add is not None and _is_new(line, item, row):
            yield _piece(line, place, [*row, item], 1.0)


def _bare(line: Line, place: int) -> Iterator[Piece]:
    """``wood handle or acrylic (4 more)``, ``red, blue``, and after a colon any list."""
    before = line.word(place - 1)
    if line.tokens[place].glued and before == "/":
        return
    listed = before in (":", "—", "(") and any(token.number for token in line.tokens[:place])
    for found in _lists(line, place, slashes=False):
        if not all(item.telling for item in found):
            continue
        has_or = any(line.word(item.end) in ("or", "/", "|") or _joined_by_or(line, item.end) for item in found[:-1])
        known = all(item.known for item in found)
        if (has_or and (found[0].known or _may_begin(line, place))) or known or listed:
            yield _piece(line, place, found, 0.75 if known or listed else 0.6)


def _may_begin(line: Line, place: int) -> bool:
    """Whether a list of words nobody knows may begin here: after a stop or a number, never in the middle of a name."""
    if place == 0:
        return False
    before = line.tokens[place - 1]
    return bool(before.number) or not before.text[:1].isalpha() or line.word(place - 1) in line.words.telling


def _glued(line: Line, place: int) -> Iterator[Piece]:
    """``s/m/l/xl``, ``(S/M/L)``."""
    if place == 0 or line.word(place + 1) != "/" or not line.tokens[place + 1].glued:
        return
    places = [place]
    while line.word(places[-1] + 1) == "/" and places[-1] + 2 < len(line.tokens):
        if not (line.tokens[places[-1] + 1].glued and line.tokens[places[-1] + 2].glued):
            break
        places.append(places[-1] + 2)
    words = [line.word(each) for each in places]
    if len(places) < 2 or not all(word[0].isalpha() and word not in line.words.telling for word in words):
        return
    items = [_Item(line.text(each, each + 1), each + 1, None, _is_known(line, line.word(each))) for each in places]
    end = places[-1] + 1
    if got := line.match(_ADDS.expression, end):
        items[-1] = _Item(items[-1].name, got.end, _added(got), items[-1].known)
        end = got.end
    follows = line.word(end)
    in_name = follows[:1].isalpha() and follows not in line.words.joining and follows not in line.words.telling
    weight = 0.85 if all(item.known for item in items) else 0.25 if in_name and len(items) == 2 else 0.75
    yield _piece(line, place, items, weight)


def _lists(line: Line, place: int, *, slashes: bool) -> Iterator[list[_Item]]:
    """Every list of two and more from the place on."""
    ways: list[list[_Item]] = [[item] for item in _items(line, place)]
    for _ in range(MAX_OPTIONS - 1):
        longer: list[list[_Item]] = []
        for items in ways:
            after, is_last = _next(line, items[-1].end, slashes=slashes)
            more = [[*items, item] for item in _items(line, after) if _is_new(line, item, items)] if after else []
            yield from more
            if not is_last or any(line.word(way[-1].end) == "or" for way in more):
                longer += more
        ways = _shortest(longer)
        if not ways:
            return


def _shortest(ways: list[list[_Item]]) -> list[list[_Item]]:
    """One way to each end, and few of them: what is longer differs in its last item alone."""
    by_end = {way[-1].end: way for way in reversed(ways)}
    return list(by_end.values())[:4]


def _is_new(line: Line, item: _Item, items: list[_Item]) -> bool:
    """Whether it is not yet in the list, and of its kind: no colour is one of several sizes."""
    kinds = {_kind(line, each.name.casefold()) for each in (*items, item)}
    is_mixed = {"size", "colour"} <= kinds or ("paper" in kinds and len(kinds) > 1)
    return not is_mixed and item.name.casefold() not in {each.name.casefold() for each in items}


def _kind(line: Line, name: str) -> str:
    if name in _PAPER:
        return "paper"
    if name in line.words.sizes or re.fullmatch(r"sizes? .+|\w{1,2} to \w{1,2}", name):
        return "size"
    return "colour" if name.split()[-1] in line.words.colours - line.words.shades else ""


def _next(line: Line, place: int, *, slashes: bool) -> tuple[int, bool]:
    """Where the next item begins, or 0; and whether it is the last: English ends a list by “or”."""
    word = line.word(place)
    if word == "," and line.word(place + 1) == "or":
        return place + 2, True
    if word == ",":
        return place + 1, False
    if word == "or":
        return place + 1, True
    if word in ("/", "|") or (slashes and word == "and"):
        return place + 1, False
    return 0, False


def _joined_by_or(line: Line, place: int) -> bool:
    return line.word(place) == "," and line.word(place + 1) == "or"


def _items(line: Line, place: int) -> Iterator[_Item]:
    """What can be one item at the place: a measure, a day, or up to so many words, the most first."""
    if place >= len(line.tokens):
        return
    if line.word(place) == "“”":
        yield _with_add(line, place, place + 1, known=True)
        return
    for pattern in (_MEASURED, _DATED):
        if (got := line.match(pattern.expression, place)) and "/" not in [
            each.word for each in line.tokens[place : got.end]
        ]:
            single = got.end - place == 1 and line.word(place)[0] == "#"
            yield _with_add(line, place, got.end, known=not single, telling=not single)
            return
    if line.word(place) in line.words.clauses | line.words.ending:
        return
    end = place
    while end < len(line.tokens) and end - place < _MAX_WORDS and _may_stand(line, end):
        end += 1
    if line.word(place) in line.words.sizes and line.word(place + 1) == "to":
        return  # from one size to another: see ``_lettered``
    for last in range(end, place, -1):
        if line.word(last - 1) not in line.words.joining and not _are_colours(line, place, last):
            text = " ".join(line.word(each) for each in range(place, last))
            yield _with_add(line, place, last, known=_is_known(line, text))


def _are_colours(line: Line, start: int, end: int) -> bool:
    """``navy cream``: two of them, and no name of one; ``light blue`` is one."""
    return end - start > 1 and all(
        line.word(place) in line.words.colours - line.words.shades for place in range(start, end)
    )


def _may_stand(line: Line, place: int) -> bool:
    word = line.word(place)
    if word in ("or", "and", "with", "for") or word in line.words.telling or word in line.words.cadences:
        return False
    return word[0].isalpha()


def _with_add(line: Line, place: int, end: int, *, known: bool, telling: bool = True) -> _Item:
    name = name_of(line, place, end)
    if got := line.match(_ADDS.expression, end):
        try:
            return _Item(name, got.end, _added(got), known, True)
        except NotSo:
            pass
    return _Item(name, end, None, known, telling)


def _added(got: Got) -> Money:
    if "less" in got:
        return -got.amount("less")
    if "off" in got:
        return -got.amount("off")
    return got.amount("more" if "more" in got else "amount")


def _is_known(line: Line, word: str) -> bool:
    words = line.words
    return word in words.sizes or word in words.colours or word in words.levels or word in _PAPER


def _piece(line: Line, place: int, items: list[_Item], weight: float) -> Piece:
    group = OptionGroup(_group_name(items), tuple(Option(item.name, item.add) for item in items))
    return Piece("options", place, items[-1].end, group, weight * (items[-1].end - place) - 0.1)


def _group_name(items: list[_Item]) -> str:
    names = {item.name.casefold() for item in items}
    sizes = {"xs", "s", "m", "l", "xl", "xxl", "small", "medium", "large"} | _PAPER
    if names & sizes or all(name[0].isdigit() for name in names):
        return "Size"
    return "Colour" if len(names & {"red", "blue", "green", "black", "white", "navy", "grey"}) else "Option"


def _sizes(got: Got) -> OptionGroup:
    least, most = got.count("least"), got.count("most")
    if not least < most or most - least >= MAX_OPTIONS:
        raise Unsuited
    return OptionGroup("Size", tuple(Option(str(number), None) for number in range(least, most + 1)))


def _lettered(got: Got) -> OptionGroup:
    sizes = got.line.words.sizes
    names = [got.word("least"), got.word("most")] if "most" in got else got.word("both").split("-")
    try:
        first, last = (sizes.index(name) for name in names)
    except ValueError:
        raise Unsuited from None
    if first >= last:
        raise Unsuited
    return OptionGroup("Size", tuple(Option(size.upper(), None) for size in sizes[first : last + 1]))


RULES = (
    Search(_introduced, _INTRODUCED.first),
    Search(_bare, frozenset((ANY,))),
    Search(_glued, frozenset((ANY,))),
    Search(_in_a_row, _INTRODUCED.first | {"xxs", "xs", "s", "m", "l", "xl", "xxl", "xxxl"}),
    Rule("options", "[LP] [<sizes>] [:] {noun:both} [RP]", _lettered),
    Rule("options", "[LP] <sizes> [:] {count:least} (~ | to | — | -) {count:most} [RP]", _sizes),
    Rule("options", "[LP] [<sizes>] [:] {noun:least} (~ | to | — | -) {noun:most} [RP]", _lettered),
)


def build(draft: Draft) -> None:
    for piece in draft.pieces_of("options"):
        thing = draft.thing_at(piece.start)
        group: OptionGroup = piece.value
        adds = any(option.add for option in group.options)
        if draft.has("one_of"):
            draft.refuse(piece, "Say what each price is for.")
            continue
        if {option.name.casefold().split()[-1] for option in group.options} == {"yes", "no"}:
            draft.refuse(piece, "Say what is asked, such as: ask if vegan (yes/no).")
            continue
        if thing is None or len(thing.choices) >= MAX_GROUPS or (adds and not thing.takes_adds):
            draft.refuse(piece)
            continue
        least = min((option.add.minor for option in group.options if option.add), default=0)
        if thing.price and thing.price.amount.minor + least < 0:
            draft.refuse(piece, "That takes off more than it costs.")
            continue
        name = (
            group.name
            if group.name not in [each.name for each in thing.choices]
            else f"Option {len(thing.choices) + 1}"
        )
        thing.choices.append(OptionGroup(name, group.options))
        piece.words = "the buyer picks " + ", ".join(_option_words(option) for option in group.options)


def _option_words(option: Option) -> str:
    if not option.add:
        return option.name
    sign = "−" if option.add.minor < 0 else "+"
    return f"{option.name} ({sign}{format_money(abs(option.add))})"
