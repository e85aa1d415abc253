"""Reading a change that is said of a link: the same pieces, put into what the link has.

>>> from datetime import date
>>> from zoneinfo import ZoneInfo
>>> from cravik.core.pricing.money import Money
>>> kite = PartialLine("kite", "Kite", FixedPrice(Money(4800, "EUR")))
>>> said = read_change("52 from 1 March", "EUR", When(date(2026, 11, 29), ZoneInfo("UTC")), Known((kite,)))
>>> said.steps[0].price.amount.major, said.is_whole
('52.00', True)
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, time
from fractions import Fraction
from itertools import count

from cravik.core.english import listed
from cravik.core.link.limits import NO_LIMITS, CodeRule, Limits
from cravik.core.link.questions import Question
from cravik.core.link.steps import Step
from cravik.core.pricing.discounts import Code
from cravik.core.pricing.offer import EXACTLY_ONE
from cravik.core.pricing.partial_offer import PartialLine
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.price import BundlesPrice, FixedPrice, PacksPrice, QuantityPrice
from cravik.core.pricing.repricing import Change, NotRepriced, changed_price
from cravik.core.pricing.schedule import ONCE, InstalmentsPlan, Plan, RepeatPlan
from cravik.core.text.money_text import format_money
from cravik.core.text.said.covering import Way, ways
from cravik.core.text.said.draft import Draft, SaidPrice, Thing
from cravik.core.text.said.lexing import MAX_TOKENS, lex
from cravik.core.text.said.names import Item, items, name_of
from cravik.core.text.said.pieces import Doubt, Line, Piece, When
from cravik.core.text.said.reading import MAX_LENGTH
from cravik.core.text.said.subjects import BUILD, CHANGES
from cravik.core.text.said.subjects.changing import Dropped, EndsAfter
from cravik.core.text.said.subjects.open_prices import is_open, open_thing
from cravik.core.text.said.told import Understood, codes_of, cost_of_stray, line_of, missed_in, plan_of, understood_in

_FAR = 1_000_000
_PLANS = ("repeats", "instalments", "deposit", "once", "plan_at")
#: Words that say when, of a price as well as of a link.
_BARE = frozenset(("from", "until", "till", "til", "thru", "through"))


@dataclass(frozen=True)
class Known:
    """What the link has already, as far as a change can speak of it."""

    lines: tuple[PartialLine, ...]
    plan: Plan = ONCE
    codes: tuple[str, ...] = ()
    questions: tuple[str, ...] = ()
    labels: tuple[str, ...] = ()


@dataclass(frozen=True)
class SaidChange:
    """What is to change. ``lines`` are those that differ, by key; ``added`` are new ones, whose keys are their numbers.
    ``limits`` are what of them is said, ``cleared`` names what is to go (see ``Dropped``); None: as it was."""

    lines: Mapping[str, PartialLine] = field(default_factory=dict)
    added: tuple[PartialLine, ...] = ()
    plan: Plan | None = None
    codes: tuple[Code, ...] = ()
    code_rules: Mapping[str, CodeRule] = field(default_factory=dict)
    steps: tuple[Step, ...] = ()
    limits: Limits = NO_LIMITS
    phone: str = ""
    address: str = ""
    note: str | None = None
    invoice: bool = False
    questions: tuple[Question, ...] = ()
    labels: tuple[str, ...] = ()
    button: str = ""
    notes: tuple[str, ...] = ()
    cleared: tuple[Dropped, ...] = ()
    pieces: tuple[Understood, ...] = ()
    doubts: tuple[Doubt, ...] = ()
    missed: tuple[str, ...] = ()
    why: str = ""

    @property
    def is_whole(self) -> bool:
        return not self.missed and not self.doubts and bool(self.pieces)


def read_change(text: str, currency: str, when: When, known: Known) -> SaidChange:
    """What the text changes of a link in that ``currency``."""
    text = " ".join(text.replace("\u00a0", " ").split())
    if not text:
        return SaidChange()
    lexed = lex(text, currency)
    if len(text) > MAX_LENGTH or len(lexed.tokens) > MAX_TOKENS:
        return SaidChange(missed=(text[:80],), why="Say it in fewer words.")
    if lexed.currency != currency or lexed.others:
        named = listed([lexed.currency, *lexed.others], "and")
        return SaidChange(missed=(text,), why=f"It speaks of {named}; this link is in {currency}.")
    line = Line(lexed, when)
    readings = [_reading(line, way, known) for way in ways(line, CHANGES.pieces(line))]
    _, draft, cleared = max(readings, key=lambda reading: reading[0])
    return _said(draft, known, cleared)


def _reading(line: Line, way: Way, known: Known) -> tuple[float, Draft, tuple[Dropped, ...]]:
    score, pieces = way
    draft = Draft.begun(line, pieces)
    draft.things = [_thing(each, number) for number, each in enumerate(known.lines)]
    if not any(piece.role in _PLANS for piece in pieces) and isinstance(known.plan, RepeatPlan | InstalmentsPlan):
        draft.plan = known.plan
    _priced(draft, items(line, draft.pieces), known)
    for piece in draft.pieces_of("options"):
        if thing := draft.thing_at(piece.start):  # sizes take the place of sizes
            thing.choices = [group for group in thing.choices if group.name != piece.value.name]
    for build in BUILD:
        build(draft)
    cleared = tuple(_cleared(draft, known))
    _changed_all(draft, known)
    score -= sum(cost_of_stray(line, *stray) for stray in draft.strays)
    score -= sum((piece.end - piece.start) * (0.3 if why else 1) for piece, why in draft.wrong)
    score -= 0.6 * len(draft.doubts)
    return score, draft, cleared


def _thing(line: PartialLine, number: int) -> Thing:
    """The line as a thing to which pieces can be added; the first is meant where none is named."""
    thing = Thing(line.name, -1 if number == 0 else _FAR)
    match line.price:
        case FixedPrice(amount=amount, was=was):
            thing.price = SaidPrice(amount, was=was)
        case BundlesPrice(unit=unit, bundles=bundles):
            thing.price, thing.bundles = SaidPrice(unit), list(bundles)
        case QuantityPrice(method="all_units", breaks=breaks) if not any(each.flat for each in breaks):
            thing.price, thing.breaks = SaidPrice(breaks[0].unit), list(breaks[1:])
        case PacksPrice(size=size, amount=amount):
            thing.price = SaidPrice(amount, pack=size)
        case _:
            thing.other = line.price
    single = isinstance(line.price, FixedPrice) and line.quantity == EXACTLY_ONE
    thing.quantity, thing.choices = None if single else line.quantity, list(line.choices)
    thing.optional, thing.once = line.optional, line.once
    return thing


def _priced(draft: Draft, stream: Sequence[Item], known: Known) -> None:
    """Names of the link's things say of which a piece speaks; a price is theirs, or of something besides."""
    line, pending = draft.line, None
    is_extra, priced = False, set[int]()
    for item in stream:
        if item.kind == "name":
            pending = item
            if thing := draft.called(name_of(line, item.start, item.end)):
                thing.start, pending = item.start, None
        elif item.role == "optional":
            is_extra = True
        elif item.role == "price" and item.piece is not None and not item.piece.wrong:
            _put_price(draft, item.piece, pending, priced, is_extra=is_extra)
            pending, is_extra = None, False
        if pending is not None and item is stream[-1]:
            draft.strays.append((pending.start, pending.end))
        elif item.kind == "piece" and item.role not in ("price", "optional") and pending is not None:
            draft.strays.append((pending.start, pending.end))
            pending = None
    _meant_until(draft, known)
    if is_open(draft) and draft.main is not None:
        thing = (
            draft.thing_at(draft.pieces_of("open", "open_list")[0].start)
            if draft.pieces_of("open", "open_list")
            else draft.main
        )
        if thing is not None:
            thing.other, thing.price = open_thing(draft, thing.name, (0, 0)).other, None


def _meant_until(draft: Draft, known: Known) -> None:
    """“58 from 1 February” is a later price; “38 until Sunday” may be one that ends, or the link does: it is asked."""
    line, olds = draft.line, {each.name: each.price for each in known.lines}
    for price in draft.pieces_of("price"):
        window = next((each for each in draft.pieces_of("window") if _is_beside(line, price, each)), None)
        if window is None or price.wrong:
            continue
        if window.value.opens_at:
            draft.refuse(window)
            continue
        sum_said = price.value.amount
        until = re.sub(r"^\S+ ", "until ", line.text(window.start, window.end))
        thing = draft.thing_at(price.start)
        old = olds.get(thing.name) if thing else None
        told = {"The link closes": f"{sum_said.major}, closes on {until.removeprefix('until ')}"}
        if isinstance(old, FixedPrice) and window.value.closes_at.time() == time(0):
            told = {f"{format_money(old.amount)} again": f"{sum_said.major} {until}, then {old.amount.major}", **told}
        start, end = min(price.start, window.start), max(price.end, window.end)
        draft.ask(start, end, "What comes after that?", told)


def _is_beside(line: Line, piece: Piece, window: Piece) -> bool:
    """Whether the days, said by a bare “from” or “until”, are about that piece."""
    first, second = sorted((piece, window), key=lambda each: each.start)
    between = [line.word(place) for place in range(first.end, second.start)]
    return line.word(window.start) in _BARE and between in ([], [","])


def _put_price(draft: Draft, piece: Piece, name: Item | None, priced: set[int], *, is_extra: bool) -> None:
    """The price of the thing that was named last, or of something besides; ``priced`` are those that have theirs."""
    price: SaidPrice = piece.value
    if name is not None:
        called = name_of(draft.line, name.start, name.end)
        if price.extra or price.once or is_extra:
            span = name.start, name.end
            _add(draft, piece, Thing(called, name.start, span, replace(price, extra=False), once=price.once))
        else:
            words = draft.line.text(name.start, piece.end)
            extra = f"{called} {price.amount.major} extra"
            draft.ask(name.start, piece.end, f"Is “{words}” an extra, if wanted?", {"Yes": extra})
        return
    if price.once and price.name:
        _add(draft, piece, Thing(price.name, piece.start, price=price, once=True))
        return
    target = draft.thing_at(piece.start)
    if target is None or price.extra or target.other is not None or id(target) in priced:
        draft.refuse(piece, f"“{target.name}” would have two prices." if target and id(target) in priced else "")
        return
    if target.price and target.price.pack and not price.pack:
        draft.refuse(piece)
        return
    priced.add(id(target))
    draft.plan = price.plan or draft.plan
    was = price.was or (target.price.was if target.price and _is_below(price, target) else None)
    target.price = replace(price, was=was)
    target.breaks, target.bundles = [], []
    target.quantity = None if price.each else target.quantity
    piece.words = format_money(price.amount) + (" each" if price.each else "")


def _add(draft: Draft, piece: Piece, thing: Thing) -> None:
    thing.optional = not thing.once
    draft.things.append(thing)
    amount = format_money(piece.value.amount)
    piece.words = f"{amount} charged once" if thing.once else f"{amount} more, if wanted"


def _is_below(price: SaidPrice, thing: Thing) -> bool:
    """Whether the former price that it has stays higher."""
    return thing.price is not None and thing.price.was is not None and thing.price.was > price.amount


def _cleared(draft: Draft, known: Known) -> Iterator[Dropped]:
    """What is to go, by what the link has of it."""
    for piece in draft.pieces_of("drop"):
        dropped: Dropped = piece.value
        match dropped.kind:
            case "question":
                number = _question(dropped, known.questions)
                if number is None:
                    draft.refuse(piece, _no_question(known.questions))
                    continue
                dropped = replace(dropped, number=number)
                piece.words = f"“{known.questions[number]}” is asked no more"
            case "code" | "label":
                there = known.codes if dropped.kind == "code" else known.labels
                name = next((each for each in there if each.casefold() == dropped.name.casefold()), None)
                if name is None:
                    draft.refuse(
                        piece,
                        f"There is no {'discount code' if dropped.kind == 'code' else 'label'} “{dropped.name}” here.",
                    )
                    continue
                dropped = replace(dropped, name=name)
                piece.words = f"without {'the code' if dropped.kind == 'code' else 'the label'} {name}"
            case _:
                piece.words = "taken out"
        yield dropped
    for piece in draft.pieces_of("ends_after"):
        _end_after(draft, piece)


def _question(dropped: Dropped, labels: Sequence[str]) -> int | None:
    if dropped.number is not None:
        number = dropped.number if dropped.number >= 0 else len(labels) + dropped.number
        return number if 0 <= number < len(labels) else None
    found = [number for number, label in enumerate(labels) if dropped.name.casefold() in label.casefold()]
    return found[0] if len(found) == 1 else None


def _no_question(labels: Sequence[str]) -> str:
    return (
        f"The questions are {listed([f'“{label}”' for label in labels], 'and')}." if labels else "No question is asked."
    )


def _end_after(draft: Draft, piece: Piece) -> None:
    said: EndsAfter = piece.value
    if said.of != "orders" and isinstance(draft.plan, RepeatPlan):
        draft.plan = replace(draft.plan, payments=said.count)
        piece.words = f"ends after {said.count:,} payments"
    elif said.of != "payments" and draft.orders is None:
        draft.orders = said.count
        piece.words = f"{said.count:,} orders in all"
    else:
        draft.refuse(piece, "Nothing here is paid again and again.")


def _changed_all(draft: Draft, known: Known) -> None:
    """Prices that go up or down by a share or a sum, each as the list of links does it."""
    for number, piece in enumerate(draft.pieces_of("repriced")):
        if number:
            draft.refuse(piece, "Say one change of all prices at a time.")
            continue
        if any(_is_beside(draft.line, piece, window) for window in draft.pieces_of("window")):
            draft.refuse(piece, "Say the price itself, such as: 52 from Monday, or 38 until Sunday then 48.")
            continue
        change: Change = piece.value
        for thing in draft.things:
            price = thing.final_price
            if price is None:
                continue
            try:
                thing.other, thing.price = changed_price(price, change), None
                thing.breaks, thing.bundles = [], []
            except NotRepriced:
                draft.refuse(piece, "Nothing would be left of the price.")
                break
        piece.words = _change_words(change)


def _change_words(change: Change) -> str:
    if change.amount:
        return f"every price {format_money(abs(change.amount))} {'more' if change.amount.minor > 0 else 'less'}"
    percent = change.percent or Fraction(0)
    share = Percent(int(abs(percent) * 10_000))
    return f"every price {share.text} % {'more' if percent > 0 else 'less'}"


def _said(draft: Draft, known: Known, cleared: tuple[Dropped, ...]) -> SaidChange:
    spans = missed_in(draft)
    keys = {id(thing): line.key for thing, line in zip(draft.things, known.lines, strict=False)}
    taken = {line.key for line in known.lines}
    free = (key for number in count(1) if (key := f"added-{number}") not in taken)
    every_key = {id(thing): keys[id(thing)] if id(thing) in keys else next(free) for thing in draft.things}
    lines, added = {}, []
    for number, thing in enumerate(draft.things):
        key = every_key[id(thing)]
        line = line_of(draft, thing, key)
        if number >= len(known.lines):
            added.append(line)
        elif replace(line, ships=known.lines[number].ships) != known.lines[number]:
            lines[key] = replace(line, ships=known.lines[number].ships or draft.ships)
    plan = plan_of(draft, list(every_key.values()))
    closes: datetime | None = draft.closes_at
    return SaidChange(
        lines,
        tuple(added),
        plan if draft.plan is not None and plan != known.plan else None,
        codes_of(draft, {thing.name: every_key[id(thing)] for thing in draft.things}),
        draft.code_rules,
        tuple(
            Step(keys[id(thing)], FixedPrice(step.after), step.orders, step.pieces, step.from_)
            for thing, step in draft.steps
            if step.after is not None and id(thing) in keys
        ),
        Limits(
            draft.opens_at,
            closes,
            draft.orders,
            draft.orders_per_buyer,
            {keys[id(thing)]: number for thing, number in draft.counted if id(thing) in keys},
            {keys[id(thing)]: number for thing, number in draft.per_buyer if id(thing) in keys},
        ),
        draft.phone if draft.phone != "no" else "",
        draft.address if draft.address != "no" else "",
        draft.note,
        draft.invoice,
        tuple(draft.questions),
        tuple(draft.labels),
        draft.button,
        tuple(draft.notes),
        cleared,
        tuple(each for each in understood_in(draft) if not any(each.text in doubt.about for doubt in draft.doubts)),
        tuple(draft.doubts),
        tuple(draft.line.text(*span).strip(" ,;.") for span in spans),
        next((reason for _, reason in draft.wrong if reason), ""),
    )
