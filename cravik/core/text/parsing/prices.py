"""What something costs, as it is said: each kind of price, in the sentence's words and in others."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from cravik.core.pricing.money import Money
from cravik.core.pricing.price import (
    MAX_IN_BUNDLES,
    Break,
    Bundle,
    BundlesPrice,
    FixedPrice,
    Level,
    LevelsPrice,
    OpenPrice,
    PacksPrice,
    Price,
    QuantityPrice,
)
from cravik.core.text.parsing.scanner import Scanner, once_a_place

_EACH = re.compile(r" (?:each|a piece|apiece)\b")
_WAS = re.compile(r",? (?:instead of|formerly|was) ")
_NOTHING = re.compile(r"nothing \(([^()]+)\)|free\b(?: of charge)?|for nothing\b", re.IGNORECASE)
_PLUS = re.compile(r" plus ")
_LEVEL = re.compile(r" \(([^()]{1,120})\)")
_COMMA, _OR, _AND = re.compile(r", "), re.compile(r",? or "), re.compile(r",? and ")
_PACK = re.compile(r" (?:a|per|for a) pack of (\d{1,6})\b", re.IGNORECASE)
_SO_MANY_FOR = re.compile(r"(?:or |and )?(\d[\d,]{0,5}) for (?=\S)")
_MANY_BUNDLES = re.compile(r", less in (\d+) sizes of bundle")
_NUMBERS = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "ten": 10}
_SO_MANY = rf"(\d{{1,3}}|{'|'.join(_NUMBERS)})"
_BUY_AND_GET = re.compile(rf",? ?buy {_SO_MANY},? get {_SO_MANY}(?: (?:free|more))?\b", re.IGNORECASE)
_FROM_ON = re.compile(r" from (\d[\d,]{0,8}) on\b")
_FIRST, _NEXT = re.compile(r" for the first(?: (\d[\d,]{0,8}))?\b"), re.compile(r" for the next(?: (\d[\d,]{0,8}))?\b")
_AFTER = re.compile(r" after that\b")
_WANTED = re.compile(
    r"(?:pay )?what (?:the buyer|the buyers|a buyer|buyers|you|they|one) (?:wants?|likes?),?", re.IGNORECASE
)
_FROM, _TO, _OR_MORE = (
    re.compile(r",? ?(?:from|at least|min(?:imum)?) "),
    re.compile(r" to "),
    re.compile(r" or more\b"),
)
_AT_MOST = re.compile(r",? (?:at most|up to) ")
_SUGGEST = re.compile(r",? (?:suggest(?:ing|ed|ions?)?|suggestions are):? ")
_START = re.compile(r",? (?:starting|start|starts) (?:at|with) ")
_MANY_AMOUNTS = re.compile(r"one of (\d+) amounts from ")
_MANY_STEPS = re.compile(r" each, by quantity in (\d+) steps,")
_SPACED = re.compile(r" ?")


@dataclass(frozen=True)
class ParsedPrice:
    """A price; None where the text only counts its parts (``unsaid`` says which). ``each`` is whether it was said of
    each of several."""

    price: Price | None
    each: bool = False
    unsaid: str = ""


@once_a_place
def prices(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    """Every way to read a price at the place; what says more first."""
    yield from _counted(scan, at)
    yield from _bundles(scan, at)
    yield from _levels(scan, at)
    yield from _breaks(scan, at)
    yield from _first_and_next(scan, at)
    yield from _packs(scan, at)
    yield from _open(scan, at)
    yield from _free(scan, at)
    yield from _fixed(scan, at)


def _counted(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    for found, end in scan.take(_MANY_AMOUNTS, at):
        for _, end in _span(scan, end):
            for each, end in _each(scan, end):
                yield ParsedPrice(None, each, f"which {found[1]} amounts there are"), end
    if scan.text.startswith("from ", at):
        for _, end in _span(scan, at + len("from ")):
            for found, end in scan.take(_MANY_STEPS, end):
                yield ParsedPrice(None, True, f"at which {found[1]} quantities the price changes"), end


def _span(scan: Scanner, at: int) -> Iterator[tuple[tuple[Money, Money], int]]:
    for least, end in scan.amount(at):
        for _, end in scan.take(_TO, end):
            for most, end in scan.amount(end):
                yield (least, most), end


def _each(scan: Scanner, at: int) -> Iterator[tuple[bool, int]]:
    for _, end in scan.take(_EACH, at):
        yield True, end
    yield False, at


def _levels(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    levels: list[Level] = []
    while True:
        read = next(
            ((found[1], amount, end) for amount, end in scan.amount(at) for found, end in scan.take(_LEVEL, end)), None
        )
        if read is None:
            return
        name, amount, at = read
        levels.append(Level(f"level-{len(levels) + 1}", name, amount))
        joined = next((end for pattern in (_OR, _COMMA) for _, end in scan.take(pattern, at)), None)
        if joined is None or not any(True for _, end in scan.amount(joined) for _ in scan.take(_LEVEL, end)):
            break
        at = joined
    if len(levels) > 1 and len({level.name for level in levels}) == len(levels):
        for each, end in _each(scan, at):
            yield ParsedPrice(LevelsPrice(tuple(levels)), each), end


def _unit(scan: Scanner, at: int) -> Iterator[tuple[tuple[Money, Money | None], int]]:
    """``A each``, perhaps ``plus F``."""
    for unit, end in scan.amount(at):
        for _, end in scan.take(_EACH, end):
            for _, after in scan.take(_PLUS, end):
                for flat, last in scan.amount(after):
                    yield (unit, flat), last
            yield (unit, None), end


def _joined(scan: Scanner, at: int) -> int:
    """The place after a comma or an “and”, or −1."""
    for pattern in (_AND, _COMMA):
        if found := next(scan.take(pattern, at), None):
            return found[1]
    return -1


def _breaks(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    """``A each, B each from 10 on and C each from 25 on,``"""
    for (unit, flat), end in _unit(scan, at):
        rows = [Break(1, unit, flat)]
        while (after := _joined(scan, end)) >= 0:
            row = next(
                (
                    (Break(int(found[1].replace(",", "")), unit, flat), last)
                    for (unit, flat), last in _unit(scan, after)
                    for found, last in scan.take(_FROM_ON, last)
                ),
                None,
            )
            if row is None or row[0].from_ <= rows[-1].from_:
                break
            rows.append(row[0])
            end = row[1]
        if len(rows) > 1 or rows[0].flat:
            yield ParsedPrice(QuantityPrice("all_units", tuple(rows)), each=True), _over_comma(scan, end)


def _first_and_next(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    """``A each for the first 9, B each for the next 15 and C each after that,``"""
    rows: list[Break] = []
    begins, pattern = 1, _FIRST
    while True:
        read = next(
            (
                (unit, flat, found[1], last)
                for (unit, flat), last in _unit(scan, at)
                for found, last in scan.take(pattern, last)
            ),
            None,
        )
        if read is None:
            break
        rows.append(Break(begins, read[0], read[1]))
        begins += int((read[2] or "1").replace(",", ""))
        pattern, at = _NEXT, _joined(scan, read[3])
        if at < 0:
            return
    for (unit, flat), end in _unit(scan, at) if rows else ():
        for _, end in scan.take(_AFTER, end):
            rows.append(Break(begins, unit, flat))
            yield ParsedPrice(QuantityPrice("incremental", tuple(rows)), each=True), _over_comma(scan, end)
            return


def _over_comma(scan: Scanner, at: int) -> int:
    return at + 1 if scan.text.startswith(", for ", at) else at


def _bundles(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    """``A each, 3 for B or 10 for C,``, and ``A, buy 2, get 1``"""
    for unit, end in scan.amount(at):
        for each, end in _each(scan, end):
            if each:
                for found, last in scan.take(_MANY_BUNDLES, end):
                    yield ParsedPrice(None, True, f"which {found[1]} bundles there are"), _over_comma(scan, last)
            for free, last in buy_and_get(scan, unit, end):
                yield ParsedPrice(BundlesPrice(unit, (free,)), each=True), _over_comma(scan, last)
            rows: tuple[Bundle, ...] = ()
            after = next((last for _, last in scan.take(_COMMA, end)), -1)
            while after >= 0 and (row := next(so_many_for(scan, unit, rows, after), None)):
                rows, end = (*rows, row[0]), row[1]
                after = next((last for pattern in (_OR, _AND, _COMMA) for _, last in scan.take(pattern, end)), -1)
            if rows:
                yield ParsedPrice(BundlesPrice(unit, rows), each=True), _over_comma(scan, end)


def so_many_for(scan: Scanner, unit: Money, before: Sequence[Bundle], at: int) -> Iterator[tuple[Bundle, int]]:
    """``3 for 5``: more pieces than in the bundles ``before``, and for less than singly at ``unit``."""
    for found, begin in scan.take(_SO_MANY_FOR, at):
        count = int(found[1].replace(",", ""))
        for amount, end in scan.amount(begin):
            if (before[-1].count if before else 1) < count <= MAX_IN_BUNDLES and amount < unit * count:
                yield Bundle(count, amount), end


def buy_and_get(scan: Scanner, unit: Money, at: int) -> Iterator[tuple[Bundle, int]]:
    """``buy two, get one free``: three for the price of two."""
    for found, end in scan.take(_BUY_AND_GET, at):
        bought, given = (_NUMBERS.get(word.lower()) or int(word) for word in found.groups())
        if bought and given and bought + given <= MAX_IN_BUNDLES and unit:
            yield Bundle(bought + given, unit * bought), end


def _packs(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    for amount, end in scan.amount(at):
        for found, end in scan.take(_PACK, end):
            if int(found[1]):
                yield ParsedPrice(PacksPrice(int(found[1]), amount), each=True), end


def _open(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    """``what the buyer wants, from A to B each,`` and what is suggested."""
    for _, end in scan.take(_WANTED, at):
        for price, end in _bounds(scan, end):
            for each, end in _each(scan, end):
                for more, end in _suggested(scan, price, end):
                    yield ParsedPrice(more, each), _over_comma(scan, end)


def _bounds(scan: Scanner, at: int) -> Iterator[tuple[OpenPrice, int]]:
    nothing = Money(0, scan.currency)
    for _, end in scan.take(_FROM, at):
        for (least, most), last in _span(scan, end):
            if least <= most:
                yield OpenPrice(least, most), last
        for least, last in scan.amount(end):
            for bound, last in _at_most(scan, last):
                if bound is None or least <= bound:
                    yield OpenPrice(least, bound), last
    for _, end in scan.take(_SPACED, at):
        for least, last in scan.amount(end):
            for _, last in scan.take(_OR_MORE, last):
                yield OpenPrice(least, None), last
    for bound, last in _at_most(scan, at):
        yield OpenPrice(nothing, bound), last


def _at_most(scan: Scanner, at: int) -> Iterator[tuple[Money | None, int]]:
    for _, end in scan.take(_AT_MOST, at):
        for most, end in scan.amount(end):
            yield most, end
    yield None, at


def _suggested(scan: Scanner, price: OpenPrice, at: int) -> Iterator[tuple[OpenPrice, int]]:
    for _, end in scan.take(_SUGGEST, at):
        amounts: list[Money] = []
        while found := next(scan.amount(end), None):
            amounts.append(found[0])
            at = found[1]
            joined = next((place for pattern in (_OR, _AND, _COMMA) for _, place in scan.take(pattern, at)), None)
            if joined is None:
                break
            end = joined
        within = [price.min <= each and (price.max is None or each <= price.max) for each in amounts]
        if amounts and all(within) and len(set(amounts)) == len(amounts):
            yield from _started(scan, replace(price, suggested=tuple(amounts)), at)
        return
    yield from _started(scan, price, at)


def _started(scan: Scanner, price: OpenPrice, at: int) -> Iterator[tuple[OpenPrice, int]]:
    for _, end in scan.take(_START, at):
        for start, end in scan.amount(end):
            if price.min <= start and (price.max is None or start <= price.max):
                yield replace(price, start=start), end
    yield price, at


def _free(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    for found, end in scan.take(_NOTHING, at):
        named = found[1]
        if named and not any(last == found.end(1) for amount, last in scan.amount(found.start(1)) if not amount):
            continue
        for each, end in _each(scan, end):
            yield from _reduced(scan, ParsedPrice(FixedPrice(Money(0, scan.currency)), each), end)


def _fixed(scan: Scanner, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    for amount, end in scan.amount(at):
        for each, end in _each(scan, end):
            yield from _reduced(scan, ParsedPrice(FixedPrice(amount), each), end)


def _reduced(scan: Scanner, parsed: ParsedPrice, at: int) -> Iterator[tuple[ParsedPrice, int]]:
    """The price with a former one, where that is said and higher."""
    assert isinstance(parsed.price, FixedPrice)
    for _, end in scan.take(_WAS, at):
        for was, end in scan.amount(end):
            if was > parsed.price.amount:
                yield replace(parsed, price=replace(parsed.price, was=was)), end
    yield parsed, at
