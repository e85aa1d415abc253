"""Reading an offer that is said in one line: piece by piece, the best of all ways, and a question for each doubt.

>>> from datetime import date
>>> from zoneinfo import ZoneInfo
>>> said = read_said("Delta kite 48, 12 places", "EUR", When(date(2026, 11, 29), ZoneInfo("UTC")))
>>> said.offer.lines[0].name, said.limits.orders, said.missed
('Delta kite', 12, ())
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from cravik.core.english import listed
from cravik.core.errors import CoreError
from cravik.core.link.asks import NOTHING_MORE, Asks, LabelledAsk
from cravik.core.link.limits import NO_LIMITS, CodeRule, Limits
from cravik.core.link.questions import Question
from cravik.core.link.steps import Step
from cravik.core.pricing.discounts import Code, UnitPriceCode
from cravik.core.pricing.offer import EXACTLY_ONE, MAX_TITLE_LENGTH, Quantity
from cravik.core.pricing.partial_offer import PartialLine, PartialOffer
from cravik.core.pricing.price import FixedPrice, LevelsPrice
from cravik.core.pricing.schedule import ONCE, ChoicePlan, Plan, PlanChoice, RepeatPlan, SimplePlan
from cravik.core.text.said.covering import Way as Covered
from cravik.core.text.said.covering import ways
from cravik.core.text.said.draft import Draft, Thing
from cravik.core.text.said.lexing import lex
from cravik.core.text.said.names import is_telling
from cravik.core.text.said.pieces import Choice, Doubt, Line, Piece, When
from cravik.core.text.said.sentences import read_sentence
from cravik.core.text.said.subjects import BUILD, GRAMMAR
from cravik.core.text.said.things import build_things

MAX_LENGTH, MAX_TOKENS, MAX_LINES = 4000, 400, 20
#: What it costs a way of reading: a word left over, a piece that can't be, a question, no name, no price.
_STRAY, _WRONG, _ASKED, _NAMELESS, _PRICELESS = 1.2, 1.0, 0.6, 2.0, 1.6
#: Ways that are so near to the best have equal sense.
_EQUAL = 0.05
_NEAR_YEARS = 5


@dataclass(frozen=True)
class Understood:
    """A piece of the text, and what was made of it."""

    text: str
    words: str


@dataclass(frozen=True)
class Said:
    """What a line says: the ``offer`` in its ``currency``, with gaps where nothing was said, and what stands around it.

    ``missed`` are the pieces that could not be understood, ``why`` says of some what is wrong with them; ``doubts`` are
    what has to be asked; ``keeps`` are the line with what was missed kept as a note. ``elsewhere`` names what is
    decided in Setup, ``unsaid`` what is only counted, ``notes`` are for the seller alone. Keys are ``line-1``, ….
    """

    offer: PartialOffer
    currency: str
    pieces: tuple[Understood, ...] = ()
    doubts: tuple[Doubt, ...] = ()
    missed: tuple[str, ...] = ()
    keeps: tuple[Choice, ...] = ()
    why: str = ""
    elsewhere: tuple[str, ...] = ()
    unsaid: tuple[str, ...] = ()
    limits: Limits = NO_LIMITS
    steps: tuple[Step, ...] = ()
    asks: Asks = NOTHING_MORE
    questions: tuple[Question, ...] = ()
    code_rules: Mapping[str, CodeRule] = field(default_factory=dict)
    button: str = ""
    labels: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()

    @property
    def is_whole(self) -> bool:
        """Whether a draft can be made of it without further ado."""
        return not self.missed and not self.doubts


def read_said(text: str, currency: str, when: When) -> Said:
    """The offer that ``text`` says; amounts without a sign are in ``currency``."""
    text = " ".join(text.replace("\u00a0", " ").split())
    if not text:
        return Said(PartialOffer(), currency)
    if written := read_sentence(text, currency):
        return Said(
            written.offer,
            written.currency,
            elsewhere=written.elsewhere,
            unsaid=written.unsaid,
            limits=written.limits,
            steps=written.steps,
        )
    if len(text) > MAX_LENGTH:
        return _nothing(text, currency, f"That is longer than {MAX_LENGTH:,} letters.")
    lexed = lex(text, currency)
    if len(lexed.tokens) > MAX_TOKENS:
        return _nothing(text, currency, "Say it in fewer words, or make several links of it.")
    if lexed.others:
        named = listed([lexed.currency, *lexed.others], "and")
        return _nothing(text, currency, f"It speaks of {named}; an offer has one currency.")
    line = Line(lexed, when)
    readings = sorted(_readings(line), key=lambda reading: -reading[0])
    if not readings:
        return _nothing(text, lexed.currency, "")
    score, best = readings[0]
    said = _said(best)
    if said.is_whole:
        rival = next((each for other, each in readings[1:] if other >= score - _EQUAL and _differs(each, said)), None)
        if rival is not None:
            return replace(said, missed=(text,), why="That can be read in two ways. Say it in other words.")
    return said


class Way(NamedTuple):
    """One way to read a line: how well it reads, its pieces by role, and what is held against it."""

    score: float
    pieces: tuple[tuple[str, str], ...]
    against: tuple[str, ...]


def ways_of(text: str, currency: str, when: When) -> list[Way]:
    """The ways in which a line can be read, the best first: why it is read as it is."""
    line = Line(lex(" ".join(text.split()), currency), when)
    found = []
    for score, draft in sorted(_readings(line), key=lambda reading: -reading[0]):
        against = [f"left over: {line.text(*stray)}" for stray in draft.strays]
        against += [f"can't be: {line.text(piece.start, piece.end)}. {why}".rstrip() for piece, why in draft.wrong]
        against += [f"asked: {doubt.about}" for doubt in draft.doubts]
        pieces = tuple((piece.role, line.text(piece.start, piece.end)) for piece in draft.pieces)
        found.append(Way(round(score, 2), pieces, tuple(against)))
    return found


def _nothing(text: str, currency: str, why: str) -> Said:
    return Said(PartialOffer(), currency, missed=(text if len(text) <= 80 else text[:80] + " …",), why=why)


def _readings(line: Line) -> Iterator[tuple[float, Draft]]:
    for way in ways(line, GRAMMAR.pieces(line)):
        yield _reading(line, way)


def _reading(line: Line, way: Covered) -> tuple[float, Draft]:
    """A draft of the way, with how well it reads."""
    score, pieces = way
    pieces = tuple(replace(piece) for piece in pieces)
    draft = Draft(line, pieces)
    for piece in pieces:
        if piece.wrong:
            draft.wrong.append((piece, piece.wrong))
        draft.doubts += piece.doubts
    build_things(draft, pieces)
    for build in BUILD:
        build(draft)
    _check(draft)
    score -= sum(cost_of_stray(line, *stray) for stray in draft.strays)
    score -= _WRONG * sum(piece.end - piece.start for piece, _ in draft.wrong)
    score -= _ASKED * len(draft.doubts)
    main = draft.main
    score -= _NAMELESS * (main is None or not main.name)
    if main is None or not main.has_price:
        score -= _PRICELESS + _STRAY * any(token.word in ("#", "#.", "¤") for token in line.tokens)
    return score, draft


def cost_of_stray(line: Line, start: int, end: int) -> float:
    """Words alone are a note or a longer name; a number that is left over is worse."""
    if any(token.number for token in line.tokens[start:end]):
        return _STRAY * (end - start)
    return min(_STRAY + 0.3 * (end - start), 2 * _STRAY)


def _check(draft: Draft) -> None:
    """What holds for the whole: names that are none, prices that are not there."""
    main = draft.main
    if main is None or not main.name:
        draft.refuse(_whole(draft), "Say what it is.")
        return
    if len(draft.things) > MAX_LINES:
        draft.refuse(_whole(draft), f"A link sells up to {MAX_LINES} things.")
    for thing in draft.things:
        levels = thing.other.levels if isinstance(thing.other, LevelsPrice) else ()
        if any(level.name.isdigit() for level in levels):
            draft.refuse(_whole(draft), "Say what each price is for.")
        if (
            not any(sign.isalpha() for sign in thing.name)
            or "://" in thing.name
            or thing.name.lower().startswith("www.")
        ):
            draft.refuse(_whole(draft), "That is not a name." if thing.name else "Say what it is.")
    _check_numbers(draft)
    if not main.has_price and not draft.doubts and not draft.wrong and not draft.price_later:
        line, last = draft.line, len(draft.line.tokens)
        name = f"“{main.name}”" if any(sign.isdigit() for sign in main.name) else main.name
        draft.ask_for_line(
            0,
            last,
            "What does it cost?",
            {
                "I’ll set the price on the bench": f"{line.text(0, last)}, price later",
                "Free": f"{name} free",
                "The buyer chooses": f"{name}, pay what you want",
            },
        )


def _check_numbers(draft: Draft) -> None:
    """A number in a name that nothing marks as a part of it, beside a price, may be the price."""
    line = draft.line
    named = {place for piece in draft.pieces if piece.role == "name" for place in range(piece.start, piece.end)}
    for thing in draft.things:
        first, last = thing.span
        bare = [
            place
            for place in range(first, last)
            if line.word(place) in ("#", "#.", "#y", "¤", "#+") and place not in named
        ]
        bare = [place for place in bare if not _is_this_year(line, place)]
        if bare and thing.has_price:
            quoted = line.replaced(first, last, f"“{thing.name}”")
            name = f"Yes: it is called “{thing.name}”"
            draft.ask_for_line(first, last, "Is the number a part of the name?", {name: quoted})


def _is_this_year(line: Line, place: int) -> bool:
    """Whether the number is a year of these days, as in “Calendar 2027”."""
    number = line.tokens[place].number
    return (
        line.word(place) == "#y"
        and number is not None
        and abs((number.whole or 0) - line.when.today.year) <= _NEAR_YEARS
    )


def _whole(draft: Draft) -> Piece:
    return Piece("whole", 0, len(draft.line.tokens), None, 0.0)


def _differs(draft: Draft, said: Said) -> bool:
    other = _said(draft)
    return other.is_whole and _meaning(other) != _meaning(said)


def _meaning(said: Said) -> object:
    return replace(said, pieces=(), offer=replace(said.offer, title=""))


def _said(draft: Draft) -> Said:
    names = [thing.name for thing in draft.things]
    keys = {id(thing): f"line-{number}" for number, thing in enumerate(draft.things, 1)}
    doubts = [*draft.doubts, *_about_strays(draft)]
    spans = missed_in(draft)
    whole = [(0, len(draft.line.tokens))]
    why = next((reason for _, reason in draft.wrong if reason), "")
    try:
        lines = tuple(line_of(draft, thing, keys[id(thing)]) for thing in draft.things)
        plan = plan_of(draft, list(keys.values()))
        offer = (
            PartialOffer(
                _title(draft, names), lines, plan, codes=codes_of(draft, {line.name: line.key for line in lines})
            )
            if names
            else PartialOffer()
        )
    except CoreError:
        return _nothing(draft.line.lexed.text, draft.line.currency, "")
    return Said(
        offer,
        draft.line.currency,
        understood_in(draft),
        tuple(doubts),
        tuple(draft.line.text(*span).strip(" ,;.") for span in spans),
        tuple(_kept(draft, span) for span in spans) if spans != whole else (),
        why,
        tuple(draft.elsewhere),
        limits=_limits(draft, keys),
        steps=tuple(
            Step(keys[id(thing)], FixedPrice(step.after), step.orders, step.pieces, step.from_)
            for thing, step in draft.steps
            if step.after is not None
        ),
        asks=Asks(
            phone=draft.phone,
            address=draft.address if draft.address != "no" else "if sent",
            invoice="optional" if draft.invoice else "no",
            note=LabelledAsk("optional", draft.note) if draft.note is not None else LabelledAsk(),
        ),
        questions=tuple(draft.questions),
        code_rules=draft.code_rules,
        button=draft.button,
        labels=tuple(draft.labels),
        notes=tuple(draft.notes),
    )


def understood_in(draft: Draft) -> tuple[Understood, ...]:
    """Names and pieces in their order, each with what was made of it."""
    line = draft.line
    told = [(piece.start, piece.end, piece.words) for piece in draft.pieces if piece.words]
    for thing in draft.things:
        words = "an extra, if wanted" if thing.optional and not draft.any_of else "what is sold"
        told += [(*thing.span, words)] if thing.span[1] > thing.span[0] else []
    return tuple(Understood(line.text(start, end), words) for start, end, words in sorted(told))


def missed_in(draft: Draft) -> list[tuple[int, int]]:
    """What is left over, in the order of the line."""
    spans = [*draft.strays, *((piece.start, piece.end) for piece, _ in draft.wrong)]
    spans += [thing.span for thing in draft.things if is_telling(draft.line, *thing.span)]
    merged: list[tuple[int, int]] = []
    for start, end in sorted(set(spans)):
        if merged and start < merged[-1][1]:
            merged[-1] = (merged[-1][0], max(end, merged[-1][1]))
        else:
            merged.append((start, end))
    return merged


def _kept(draft: Draft, span: tuple[int, int]) -> Choice:
    """The line with the words as a note at its end."""
    line, (start, end) = draft.line, span
    words = line.text(*span).strip(" ,;.")
    while start > 1 and line.word(start - 1) in line.words.joining | line.words.ending:
        start -= 1  # what joined it goes with it
    rest = line.replaced(start, end, "").replace("()", "").rstrip(" ,;.")
    rest = re.sub(r"\s+([,;.)])", r"\1", re.sub(r"([,;])(?:\s*[,;])+", r"\1", rest))
    return Choice(words, f"{rest}, note “{words.replace('“', '').replace('”', '')}”")


def _about_strays(draft: Draft) -> Iterator[Doubt]:
    """Words without a number that nothing was made of: they may say more of the name, or be for the seller alone."""
    main, line = draft.main, draft.line
    if main is None:
        return
    is_named = main.span[1] > main.span[0]
    for start, end in sorted(draft.strays):
        words = [line.word(place) for place in range(start, end)]
        named = {place for piece in draft.pieces_of("name") for place in range(piece.start, piece.end)}
        numbers = [place for place in range(start, end) if line.tokens[place].number and place not in named]
        if start < main.span[1] or numbers or any(word in line.words.telling for word in words):
            continue
        if all(word in line.words.joining | line.words.ending for word in words):
            continue
        draft.strays.remove((start, end))
        kept = _kept(draft, (start, end))
        plain = kept.line[: kept.line.rindex(", note “")]
        longer = plain.replace(line.text(*main.span) if is_named else "", f"“{main.name}, {kept.words}”", 1)
        choices = [Choice("A part of the name", longer)] if is_named else []
        choices.append(Choice("Something to do: keep it as a note", kept.line))
        yield Doubt(kept.words, f"What is “{kept.words}”?", tuple(choices))


def _title(draft: Draft, names: Sequence[str]) -> str:
    if draft.title:
        return draft.title[:MAX_TITLE_LENGTH]
    plain = [thing.name for thing in draft.things if not thing.optional and not thing.once] or list(names)
    return (plain[0] if len(plain) == 1 else listed(plain, "and"))[:MAX_TITLE_LENGTH]


def line_of(draft: Draft, thing: Thing, key: str) -> PartialLine:
    """The thing as a line of that key."""
    bounds = thing.bounds
    most = next((count for each, count in draft.per_buyer if each is thing), None)
    if most and bounds == EXACTLY_ONE:
        bounds = Quantity(1, 1, most)
    once = thing.once and isinstance(draft.plan, RepeatPlan)
    return PartialLine(
        key, thing.name, thing.final_price, bounds, tuple(thing.choices), thing.optional, draft.ships, once
    )


def plan_of(draft: Draft, keys: Sequence[str]) -> Plan:
    """The plan with prices by the keys of the things."""
    key_of = {thing.name: key for thing, key in zip(draft.things, keys, strict=False)}

    def with_keys(plan: SimplePlan) -> SimplePlan:
        if isinstance(plan, RepeatPlan) and plan.first:
            prices = {key_of.get(name, name): price for name, price in plan.first.prices.items()}
            return replace(plan, first=replace(plan.first, prices=prices))
        return plan

    plan = with_keys(draft.plan or ONCE)
    main = draft.main
    if not draft.others or main is None:
        return plan
    choices = [PlanChoice("plan-1", plan, {})]
    for number, (other, own) in enumerate(draft.others, 2):
        prices = {key_of[main.name]: FixedPrice(own)} if own is not None else {}
        choices.append(PlanChoice(f"plan-{number}", other, prices))
    return ChoicePlan(tuple(choices))


def codes_of(draft: Draft, key_of: Mapping[str, str]) -> tuple[Code, ...]:
    """The codes, with the keys of what they bring down the price of."""
    return tuple(
        replace(code, line=key_of[code.line]) if isinstance(code, UnitPriceCode) else code for code in draft.codes
    )


def _limits(draft: Draft, keys: Mapping[int, str]) -> Limits:
    return Limits(
        draft.opens_at,
        draft.closes_at,
        draft.orders,
        draft.orders_per_buyer,
        {keys[id(thing)]: number for thing, number in draft.counted},
        {keys[id(thing)]: number for thing, number in draft.per_buyer},
    )
