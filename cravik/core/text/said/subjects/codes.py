"""Discount codes, with all their terms: “10% off with EARLY until Friday, once per customer”."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from typing import TypedDict

from cravik.core.english import day_words
from cravik.core.link.limits import CodeRule
from cravik.core.pricing.discounts import AmountCode, Code, FreeDeliveryCode, PercentCode, UnitPriceCode
from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent
from cravik.core.text.money_text import format_money
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.patterns import ANY, compiled
from cravik.core.text.said.pieces import Got, Line, NotSo, Piece, Search, Unsuited

MAX_CODE_LENGTH = 40
_FREE_DELIVERY = "(free <delivery:delivery> | no <delivery:delivery>)"
#: What comes first: what it takes off, or the code.
_HEADS = tuple(
    compiled(pattern)
    for pattern in (
        "[get | with | and] ({percent} | {amount}) <off> (<with> [the] [<code:marked>] {code} | <code:marked> {code})",
        "[get] ({percent} | {amount}) <off> [the] {noun:on} [{noun:more}] <with> [the] [<code:marked>] {code}",
        "[get] {percent} (<with> [the] [<code:marked>] {code} | <code:marked> {code})",
        "[get] (half price | half off) <with> [the] [<code:marked>] {code}",
        f"{_FREE_DELIVERY} <with> [the] [<code:marked>] {{code}}",
        "[use] [<code:marked>] {code} <gives> [half price | half off]",
        "[use] [the] [<code:marked>] {code} [<gives>] ({percent} | {amount}) <off>",
        "[use] [the] <code:marked> {code} [<gives>] {percent} [<off>]",
        "[use] {code} <gives> ({percent} | {amount}) <off>",
        "[use] [the] [<code:marked>] {code} [<gives>] (half price | half off)",
        f"[use] [the] [<code:marked>] {{code}} [<gives>] {_FREE_DELIVERY}",
        "[use] [the] <code:marked> {code} [<gives>] [you pay] [only] {amount:to}",
        "[use] [the] [<code:marked>] {code} (brings it to | makes it | pays | pay) [only] {amount:to}",
    )
)
_TERMS = tuple(
    (name, compiled(pattern))
    for name, pattern in (
        ("per_buyer", "[,] [LP] (once | one use | one) (per | a | each) <buyer> [RP]"),
        ("per_buyer", "[,] [LP] {count} (times | uses | x) (per | a | each) <buyer> [RP]"),
        ("uses", "[,] [LP] [for] [the] first {count} [only | buyers | customers | people | orders | uses] [RP]"),
        (
            "uses",
            "[,] [LP] [max | maximum | up to | only | limited to | at most] {count} (uses |"
            " times | redemptions) [in all] [RP]",
        ),
        (
            "minimum",
            "[,] [LP] [on] [for] [orders | an order | purchases | totals | baskets] [of] (over |"
            " from | above | at least | of at least | min | minimum) {amount} [or more] [RP]",
        ),
        ("until", "[LP] [valid | good] <until> {day} [RP]"),
        ("before", "[LP] [valid | good] before {day} [RP]"),
        ("from", "[LP] [valid | good] <from> {day} [RP]"),
        ("today", "[LP] today only [RP]"),
        *(
            ("only", pattern)
            for name in ("{noun:on} {noun:more}", "{noun:on}")
            for pattern in (
                f"[,] [LP] [only] (on | off | for) [the] {name} [only] [RP]",
                f"the {name} [only]",
                f"[,] [LP] {name} only [RP]",
            )
        ),
    )
)
#: Capitals that are no codes.
_NO_CODES = frozenset("VAT GST RRP MRP LP CD DVD PDF USB XS XL XXL UK US USA EU TV DIY VIP BBQ DJ AM PM".split())


@dataclass(frozen=True)
class SaidCode:
    """A code and what it takes off (or brings a price ``to``), with its terms."""

    code: str
    percent: Percent | None = None
    amount: Money | None = None
    to: Money | None = None
    free_delivery: bool = False
    starts_on: date | None = None
    ends_on: date | None = None
    minimum: Money | None = None
    uses: int | None = None
    uses_per_buyer: int | None = None
    #: The name of the one thing that it is for; empty: all of them.
    only: str = ""
    #: Whether a sum stands without “off”: it may be what is paid, or what is taken off.
    in_doubt: bool = False


def _codes(line: Line, place: int) -> Iterator[Piece]:
    for head in _HEADS:
        got = line.match(head.expression, place)
        if got is None:
            continue
        wrong = ""
        try:
            said: SaidCode | None = _head(got)
        except Unsuited:
            continue
        except NotSo as error:
            said, wrong = None, str(error)
        ends = [(said, got.end, got)]
        while said is not None and len(ends) < 7 and (more := _term(line, said, ends[-1][1])):
            said = more[0]
            ends.append(more)
        doubts = [doubt for _, _, each in ends for doubt in each.doubts]
        for each, end, _ in ends[-2:]:
            yield Piece("code", place, end, each, 1.05 * (end - place) - 0.1, wrong, doubts)


def _head(got: Got) -> SaidCode:
    place = got.span("code")[0]
    text = got.text("code")
    is_code = re.fullmatch(r"[A-Z][A-Z0-9_-]{2,}|[A-Z]+\d+", text) and text not in _NO_CODES
    if not (is_code or "marked" in got) or len(text) > MAX_CODE_LENGTH or got.line.word(place) in _CODE_WORDS:
        raise Unsuited
    said = SaidCode(text.upper() if "marked" in got and text.islower() else text, only=_name(got))
    words = got.line.lexed.shadow[got.line.lexed.offsets[got.start] : got.line.lexed.offsets[got.end]]
    if "delivery" in got:
        return replace(said, free_delivery=True)
    if "to" in got:
        sure = any(phrase in words for phrase in ("brings it to", "makes it", "pays ", "you pay", "pay "))
        return replace(said, to=got.amount("to"), in_doubt=not sure)
    if "half price" in words or "half off" in words:
        return replace(said, percent=Percent.parse("50"))
    if "percent" in got:
        return replace(said, percent=got.percent())
    if "amount" not in got:
        raise Unsuited
    if not got.amount().minor:
        raise NotSo("Nothing would be taken off.")
    return replace(said, amount=got.amount())


_CODE_WORDS = frozenset("off for with a an the and or is code each people buyers orders members".split())


def _term(line: Line, said: SaidCode, place: int) -> tuple[SaidCode, int, Got] | None:
    for name, pattern in _TERMS:
        got = line.match(pattern.expression, place)
        if got is None:
            continue
        try:
            more = _with_term(said, name, got)
        except (NotSo, Unsuited):
            continue
        if more is not None:
            return more, got.end, got
    return None


def _with_term(said: SaidCode, name: str, got: Got) -> SaidCode | None:
    match name:
        case "per_buyer" if said.uses_per_buyer is None:
            return replace(said, uses_per_buyer=got.count() if "count" in got else 1)
        case "uses" if said.uses is None:
            return replace(said, uses=got.count())
        case "minimum" if said.minimum is None:
            return replace(said, minimum=got.amount())
        case "until" if said.ends_on is None:
            return replace(said, ends_on=got.day())
        case "before" if said.ends_on is None:
            return replace(said, ends_on=date.fromordinal(got.day().toordinal() - 1))
        case "from" if said.starts_on is None:
            return replace(said, starts_on=got.day())
        case "today" if said.ends_on is None:
            return replace(said, ends_on=got.line.when.today)
        case "only" if not said.only and got.word("on") != "the" and got.word("more") not in got.line.words.telling:
            return replace(said, only=_name(got))
    return None


def _name(got: Got) -> str:
    return " ".join(got.text(each) for each in ("on", "more") if each in got)


class _Terms(TypedDict):
    starts_on: date | None
    ends_on: date | None
    minimum: Money | None


RULES = (Search(_codes, frozenset((ANY,))),)


def build(draft: Draft) -> None:
    for piece in draft.pieces_of("code"):
        said: SaidCode = piece.value
        if said.code.casefold() in [each.code.casefold() for each in draft.codes]:
            draft.refuse(piece, f"The code {said.code} is there twice.")
            continue
        thing = draft.called(said.only) if said.only else None
        if said.only and (thing is None or said.free_delivery):
            draft.refuse(piece, "" if thing else f"There is no “{said.only}” for the code {said.code} to be for.")
            continue
        code = _code(draft, piece, said)
        if code is None:
            continue
        if thing is not None:
            code, said = replace(code, lines=(thing.name,)), replace(said, only=thing.name)
        draft.codes.append(code)
        if said.uses or said.uses_per_buyer:
            draft.code_rules[said.code] = CodeRule(said.uses, said.uses_per_buyer)
        draft.ships = draft.ships or said.free_delivery
        piece.words = code_words(said)


def _code(draft: Draft, piece: Piece, said: SaidCode) -> Code | None:
    terms = _Terms(starts_on=said.starts_on, ends_on=said.ends_on, minimum=said.minimum)
    if said.free_delivery:
        return FreeDeliveryCode(code=said.code, **terms)
    if said.percent is not None:
        return PercentCode(code=said.code, percent=said.percent, **terms)
    if said.to is not None:
        thing = draft.main
        price = thing.price.amount if thing and thing.price and not thing.other else None
        if thing is None or price is None or said.to >= price:
            draft.refuse(piece, f"{format_money(said.to)} is not less than the price." if price else "")
            return None
        if said.in_doubt:
            draft.ask(
                piece.start,
                piece.end,
                f"What does the code {said.code} do?",
                {
                    f"It brings the price to {format_money(said.to)}": f"code {said.code} brings it to {said.to.major}",
                    f"It takes {format_money(said.to)} off": f"code {said.code} takes {said.to.major} off",
                },
            )
        return UnitPriceCode(code=said.code, line=thing.name, unit=said.to, **terms)
    return AmountCode(code=said.code, amount=said.amount or Money(0, draft.line.currency), **terms)


def code_words(said: SaidCode) -> str:
    """What the code does, and on which terms."""
    if said.free_delivery:
        words = "free delivery"
    elif said.percent:
        words = f"{said.percent.text} % off"
    else:
        words = f"{format_money(said.amount)} off" if said.amount else f"for {format_money(said.to)}" if said.to else ""
    parts = [f"code {said.code}: {words}{f' for {said.only} only' if said.only else ''}"]
    parts += [f"from {day_words(said.starts_on)}"] if said.starts_on else []
    parts += [f"until {day_words(said.ends_on)}"] if said.ends_on else []
    parts += [f"on orders from {format_money(said.minimum)}"] if said.minimum else []
    parts += [f"{said.uses:,} uses"] if said.uses else []
    parts += (
        ["once a buyer" if said.uses_per_buyer == 1 else f"{said.uses_per_buyer} times a buyer"]
        if said.uses_per_buyer
        else []
    )
    return ", ".join(parts)
