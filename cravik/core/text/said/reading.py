"""Reading an offer that is said in one line: piece by piece, the best of all ways, and a question for each doubt.

>>> from datetime import date
>>> from zoneinfo import ZoneInfo
>>> said = read_said("Delta kite 48, 12 places", "EUR", When(date(2026, 11, 29), ZoneInfo("UTC")))
>>> said.offer.lines[0].name, said.limits.orders, said.missed
('Delta kite', 12, ())
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from cravik.core.english import listed
from cravik.core.errors import CoreError
from cravik.core.link.asks import NOTHING_MORE, Asks, LabelledAsk
from cravik.core.link.limits import NO_LIMITS, CodeRule, Limits
from cravik.core.link.questions import Question
from cravik.core.link.steps import Step
from cravik.core.pricing.offer import MAX_TITLE_LENGTH
from cravik.core.pricing.partial_offer import PartialOffer
from cravik.core.pricing.price import FixedPrice, LevelsPrice
from cravik.core.pricing.schedule import RepeatPlan
from cravik.core.text.said.covering import Way as Covered
from cravik.core.text.said.covering import ways
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.lexing import MAX_TOKENS, lex
from cravik.core.text.said.names import name_of
from cravik.core.text.said.pieces import Choice, Doubt, Line, Piece, When
from cravik.core.text.said.sentences import read_sentence
from cravik.core.text.said.subjects import BUILD, GRAMMAR
from cravik.core.text.said.things import build_things
from cravik.core.text.said.told import (
    STRAY,
    Understood,
    about_names,
    about_strays,
    codes_of,
    cost_of_stray,
    kept_as_note,
    limits_of,
    line_of,
    missed_in,
    plan_of,
    understood_in,
)
from cravik.core.text.sentence import sentence

MAX_LENGTH, MAX_LINES = 4000, 20
#: What it costs a way of reading: a piece that can't be, a question, no name, no price, no price but of an extra.
_WRONG, _ASKED, _NAMELESS, _PRICELESS, _ONLY_EXTRA = 1.0, 0.6, 2.0, 1.6, 3.0
#: A way that is so near to the best has equal sense: it is asked.
_EQUAL = 0.55
_NEAR_YEARS = 5
#: What only helps to put others together.
_SAY_NOTHING = frozenset(("name", "noise", "optional", "together", "any_of", "picks"))
_BARE = frozenset(("#", "#.", "#y", "¤", "#+"))


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
    if len(text) > MAX_LENGTH:
        return _nothing(text, currency, f"That is longer than {MAX_LENGTH:,} letters.")
    if written := read_sentence(text, currency):
        return Said(
            written.offer,
            written.currency,
            elsewhere=written.elsewhere,
            unsaid=written.unsaid,
            limits=written.limits,
            steps=written.steps,
        )
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
        equal = (draft for other, draft in readings[1:] if other >= score - _EQUAL and not _only_parts(draft, best))
        near = map(_said, equal)
        rival = next((each for each in near if each.is_whole and _meaning(each) != _meaning(said)), None)
        if rival is not None:
            return _asked_between(text, said, rival, when)
    return said


def _asked_between(text: str, said: Said, rival: Said, when: When) -> Said:
    """Two readings of equal sense: which of their sentences is meant, where each is read back as what it says."""
    choices = []
    for each in (said, rival):
        told = "".join(
            phrase.text for phrase in sentence(each.offer, steps=each.steps, limits=each.limits, zone=when.zone.key)
        )
        back = read_said(told, each.currency, when)
        if back.unsaid or not back.is_whole or _meaning(back) != _meaning(each):
            return replace(said, missed=(text,), why="That can be read in two ways. Say it in other words.")
        choices.append(Choice(told, told))
    return replace(said, doubts=(Doubt(text, "Which of these do you mean?", tuple(choices)),))


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
    draft = Draft.begun(line, pieces)
    build_things(draft, draft.pieces)
    for build in BUILD:
        build(draft)
    _check(draft)
    score -= sum(cost_of_stray(line, *stray) for stray in draft.strays)
    score -= _WRONG * sum(piece.end - piece.start for piece, _ in draft.wrong)
    score -= _ASKED * len(draft.doubts)
    score -= _ONLY_EXTRA * draft.only_extra
    score -= _ASKED * sum(" or " in thing.name for thing in draft.things if thing.optional)
    main = draft.main
    score -= _NAMELESS * (main is None or not main.name)
    if main is None or not main.has_price:
        score -= _PRICELESS + STRAY * any(token.word in ("#", "#.", "¤") for token in line.tokens)
    return score, draft


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
    if draft.closes_at and any(step.from_ and step.from_ >= draft.closes_at for _, step in draft.steps):
        draft.refuse(_whole(draft), "It would close before that price begins.")
    if isinstance(draft.plan, RepeatPlan) and any(thing.bundles for thing in draft.things):
        draft.refuse(_whole(draft), "So many at once, or so many payments? Say it in other words.")
    _check_extras(draft)
    _check_numbers(draft)
    _check_choice(draft)
    _check_used(draft)
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


def _check_used(draft: Draft) -> None:
    """A piece of which nothing was made, and that is neither asked about nor refused, went unused."""
    refused = [piece for piece, _ in draft.wrong]
    for piece in draft.pieces:
        if not (piece.words or piece.role in _SAY_NOTHING or piece in refused or draft.doubts):
            draft.refuse(piece)


def _check_choice(draft: Draft) -> None:
    """An “or” between what is understood says that there is a choice."""
    line = draft.line
    told = _told_in(draft)
    joins = [place for place in range(1, len(line.tokens)) if line.word(place) == "or" and place not in told]
    picked = draft.any_of or any(thing.other or thing.breaks or thing.bundles for thing in draft.things)
    if joins and not (draft.others or picked or draft.doubts or draft.strays):
        draft.refuse(Piece("or", joins[0], joins[0] + 1, None, 0.0), "Say what can be chosen.")


def _check_extras(draft: Draft) -> None:
    """An extra of what repeats may be paid once, or with every payment."""
    for thing in draft.things:
        price = thing.price
        if not thing.end or price is None or thing.once or price.plan or price.every_time:
            continue
        if isinstance(draft.plan, RepeatPlan):
            sums = f"{thing.name} {price.amount.major}"
            choices = {"Once": f"optional {sums} once", "With every payment": f"{sums} extra every time"}
            draft.ask(thing.start, thing.end, f"Is “{thing.name}” paid once, or every time?", choices)


def _check_numbers(draft: Draft) -> None:
    """A number in a name that nothing marks as a part of it, beside a price, may be the price."""
    line = draft.line
    named = {place for piece in draft.pieces if piece.role == "name" for place in range(piece.start, piece.end)}
    for thing in draft.things:
        first, last = thing.span
        bare = [place for place in range(first, last) if line.word(place) in _BARE and place not in named]
        bare = [place for place in bare if not _is_this_year(line, place)]
        if bare and thing.has_price:
            name = name_of(line, first, last)
            told = {f"Yes: it is called “{name}”": f"“{name}”"}
            draft.ask(first, last, "Is the number a part of the name?", told)
    if not draft.doubts and not draft.wrong:
        _check_untold(draft)


def _check_untold(draft: Draft) -> None:
    """A number that is in no piece, and in no name that was asked about, went unused: the level “A4 20, A3”."""
    told = _told_in(draft) | {place for stray in draft.strays for place in range(*stray)}
    for place in range(len(draft.line.tokens)):
        if draft.line.word(place) in _BARE and place not in told and not _is_this_year(draft.line, place):
            draft.refuse(Piece("number", place, place + 1, None, 0.0), "Say what each number is for.")


def _told_in(draft: Draft) -> set[int]:
    """The places of tokens that are in a piece or in a name."""
    told = {place for piece in draft.pieces for place in range(piece.start, piece.end)}
    return told | {place for thing in draft.things for place in range(*thing.span)}


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


def _only_parts(draft: Draft, best: Draft) -> bool:
    """Whether it only parts what the best reads as one: ``TAIL 10% off`` and ``until Friday``."""
    return any(
        sum(whole.start <= piece.start and piece.end <= whole.end for piece in draft.pieces) > 1
        for whole in best.pieces
    )


def _meaning(said: Said) -> object:
    """All that it says but for what things are called; a sentence tells the window with the offer."""
    lines = tuple(replace(line, name="") for line in said.offer.lines)
    window, limits = said.offer.window, said.limits
    if window is not None:
        limits = replace(limits, opens_at=window.opens_at, closes_at=window.closes_at)
    return replace(said, pieces=(), limits=limits, offer=replace(said.offer, title="", lines=lines, window=None))


def _said(draft: Draft) -> Said:
    names = [thing.name for thing in draft.things]
    keys = {id(thing): f"line-{number}" for number, thing in enumerate(draft.things, 1)}
    doubts = [*draft.doubts, *about_names(draft), *about_strays(draft)]
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
        tuple(kept_as_note(draft, span) for span in spans) if spans != whole else (),
        why,
        tuple(draft.elsewhere),
        limits=limits_of(draft, keys),
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


def _title(draft: Draft, names: Sequence[str]) -> str:
    if draft.title:
        return draft.title[:MAX_TITLE_LENGTH]
    plain = [thing.name for thing in draft.things if not thing.optional and not thing.once] or list(names)
    return (plain[0] if len(plain) == 1 else listed(plain, "and"))[:MAX_TITLE_LENGTH]
