"""Reading the offer sentence back: what the core writes of an offer, whoever changed a figure in it.

>>> read = parse_line("€48.00 each for Delta kite in 1.2 m or 1.8 m, up to 3, paid once.", "EUR")
>>> read.offer.lines[0].name, read.offer.lines[0].quantity.max
('Delta kite', 3)
>>> parse_line("€48.00 for Delta kite, up too 3, paid once.", "EUR") is None
True
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime, time, timedelta, timezone
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from cravik.core.english import listed
from cravik.core.link.limits import NO_LIMITS, Limits
from cravik.core.link.steps import Step
from cravik.core.pricing.offer import EXACTLY_ONE, MAX_TITLE_LENGTH, Quantity, Window
from cravik.core.pricing.partial_offer import PartialLine, PartialOffer
from cravik.core.pricing.price import Break, FixedPrice, Price, QuantityPrice
from cravik.core.pricing.schedule import ONCE, ChoicePlan, FirstPayments, Plan, PlanChoice, RepeatPlan, SimplePlan
from cravik.core.text.parsing.counts import NOTHING_COUNTED, ParsedCounts, counts, limits_of
from cravik.core.text.parsing.days import read_day
from cravik.core.text.parsing.plans import plans
from cravik.core.text.parsing.prices import prices
from cravik.core.text.parsing.scanner import Scanner, TooMuchToRead, currencies_named, is_name, nearest
from cravik.core.text.parsing.things import Thing, things

MAX_LINES = 20
_ANY_OF = re.compile(r"any of (?:these:? )?", re.IGNORECASE)
_TITLE = re.compile(r"([^:;]{1,120}): ")
_NEXT_THING = re.compile(r"; and |; |,? and |, ")
_NEXT_CLAUSE = re.compile(r"[;,] | (?=paid |in \d|every |monthly|weekly|yearly|daily|a (?:day|week|month|year)|per )")
_END = re.compile(r"\.?$")
_PICKS = re.compile(r"paid as the buyer picks: ")
_OR_PLAN, _AT, _FOR = re.compile(r"; or "), re.compile(r" at "), re.compile(r" for ")
_AND = re.compile(r", | and ")
_FIRST_PAYMENTS = re.compile(
    r",? (?:the )?first (?:(\d{1,4}) )?(payments?|days?|weeks?|months?|years?) (?:at |for |only )?(?=\S)"
)
_MAX_FIRST = 1200
#: What is said of an offer and decided elsewhere, by what is told of it.
_COUNTRY = r"[A-Z][^,;]*?"
_SENT_WHERE = rf"(?: to {_COUNTRY}(?:, {_COUNTRY})*(?: and {_COUNTRY})?| anywhere)?"
_FIGURES = r"(?:[^;,]|,(?=\d))*?"
_CHARGED = (
    r"(?: (?:at \d+ rates for delivery|at a charge by (?:value|weight)|free of charge|without a charge for delivery"
    rf"|for {_FIGURES}(?: and {_FIGURES} for each further piece)?(?: % of the value)?))?(?:, free from {_FIGURES} on)?"
)
ELSEWHERE = (
    (re.compile(rf"(?:sent|posted|delivered|shipped){_SENT_WHERE}{_CHARGED}(?=[,;] |\.?$)"), "delivery"),
    (re.compile(r"(?:tax|VAT) (?:included|added)|(?:plus|with|including) (?:tax|VAT)"), "tax"),
    (re.compile(r"with \d+ discount codes?"), "codes"),
    (re.compile(r"the buyer may cover the fee"), "fee"),
)
_SENT = re.compile(r"(?:sent|posted|delivered|shipped)\b")
_INSTANT = r"(\d{1,2} [A-Z][a-z]+ \d{4}), (\d\d:\d\d) \((?:UTC([+-]\d\d:\d\d)?|([A-Z]\w+/[\w/+-]+))\)"
_OR_ORDERS = re.compile(r" or (\d[\d,]*) orders?\b")
_THEN, _NEXT_STEP = re.compile(r"then "), re.compile(r", | and ")
_STEP_BY_COUNT = re.compile(r" after (\d[\d,]*) ([a-z]+)\b")
_STEP_BY_DAY = re.compile(rf" (?:or )?from {_INSTANT}")
_FROM, _UNTIL = re.compile(rf"from {_INSTANT}"), re.compile(rf"(?: |^)?until {_INSTANT}")


@dataclass(frozen=True)
class ParsedLine:
    """What was read: the offer in its ``currency``. ``elsewhere`` names the subjects that were said and are decided in
    Setup or on the bench, ``unsaid`` what the text only counts, ``limits`` how often it can be bought and ``steps`` its
    later prices, both by the offer's lines."""

    offer: PartialOffer
    currency: str
    elsewhere: tuple[str, ...] = ()
    unsaid: tuple[str, ...] = ()
    limits: Limits = NO_LIMITS
    steps: tuple[Step, ...] = ()


@dataclass(frozen=True)
class _Clauses:
    """What is said of the whole order."""

    plan: Plan = ONCE
    window: Window | None = None
    ships: bool = False
    elsewhere: tuple[str, ...] = ()
    counts: ParsedCounts = NOTHING_COUNTED
    #: Later prices; the line of each is the name of its thing, or nothing.
    steps: tuple[Step, ...] = ()
    #: From when and until when, where a count of orders ends it as well.
    open: Window | None = None


def parse_line(text: str, currency: str) -> ParsedLine | None:
    """The offer that the sentence says, whose amounts without a sign are in ``currency``; None if it is none."""
    named = currencies_named(text, currency)
    if len(named) > 1:
        return None
    scan = Scanner(text, named[0] if named else currency)
    try:
        read = next(_readings(scan), None)
        return _parsed(*read, scan.currency) if read else None
    except TooMuchToRead:
        return None


def _readings(scan: Scanner) -> Iterator[tuple[str, list[Thing], _Clauses]]:
    for found, end in scan.take(_TITLE, 0):
        for sold, clauses in _any_of(scan, end):
            if len(sold) > 1 and is_name(found[1].split(",")[0]):
                yield found[1], sold, clauses
    for sold, clauses in _any_of(scan, 0):
        yield "", sold, clauses


def _any_of(scan: Scanner, at: int) -> Iterator[tuple[list[Thing], _Clauses]]:
    """What is sold; after ``any of`` a buyer takes what they like of it, and at least one thing."""
    for _, end in scan.take(_ANY_OF, at):
        for sold, clauses in _Sold(scan).whole(end):
            if len(sold) > 1 and not any(thing.optional for thing in sold):
                yield [replace(thing, optional=True) for thing in sold], clauses
    yield from _Sold(scan).whole(at)


class _Sold:
    """Things and clauses to the end of a text. A place from which nothing reaches the end is tried once."""

    def __init__(self, scan: Scanner) -> None:
        self.scan = scan
        self._dead: set[int] = set()

    def whole(self, at: int) -> Iterator[tuple[list[Thing], _Clauses]]:
        yield from self._things(at, 1)

    def _things(self, at: int, number: int) -> Iterator[tuple[list[Thing], _Clauses]]:
        if at in self._dead or number > MAX_LINES:
            return
        reached = False
        for thing, end in things(self.scan, at):
            for clauses, last in nearest(_clauses(self.scan, end, _Clauses())):
                if next(self.scan.take(_END, last), None):
                    reached = True
                    yield [thing], clauses
            for _, after in self.scan.take(_NEXT_THING, end):
                for more, clauses in self._things(after, number + 1):
                    reached = True
                    yield [thing, *more], clauses
        if not reached:
            self._dead.add(at)


def _clauses(scan: Scanner, at: int, read: _Clauses) -> Iterator[tuple[_Clauses, int]]:
    """Every way to read clauses one after the other; the most first."""
    for _, begin in scan.take(_NEXT_CLAUSE, at):
        for more, end in _clause(scan, begin, read):
            yield from _clauses(scan, end, more)
    yield read, at


def _clause(scan: Scanner, at: int, read: _Clauses) -> Iterator[tuple[_Clauses, int]]:
    if read.plan == ONCE:
        for plan, end in _choice(scan, at):
            yield replace(read, plan=plan), end
        for simple, end in plans(scan, at):
            for priced, last in _at_first(scan, simple, end):
                yield replace(read, plan=priced), last
    for pattern, subject in ELSEWHERE:
        if subject not in read.elsewhere:
            for found, end in scan.take(pattern, at):
                ships = read.ships or bool(_SENT.match(found[0]))
                yield replace(read, ships=ships, elsewhere=(*read.elsewhere, subject)), end
    if read.window is None:
        yield from _window(scan, at, read)
    if not read.steps:
        for _, end in scan.take(_THEN, at):
            for steps, last in _steps(scan, end, ()):
                yield replace(read, steps=steps), last
    for counted, end in counts(scan, at, read.counts):
        yield replace(read, counts=counted), end


def _choice(scan: Scanner, at: int) -> Iterator[tuple[Plan, int]]:
    """``paid as the buyer picks: once; or every month, 12 times at €11.00``"""
    for _, end in scan.take(_PICKS, at):
        yield from _picked(scan, end, ())


def _picked(scan: Scanner, at: int, had: tuple[PlanChoice, ...]) -> Iterator[tuple[Plan, int]]:
    for plan, end in plans(scan, at):
        for own, end in _own_prices(scan, end):
            for priced, end in _at_first(scan, plan, end):
                choices = (*had, PlanChoice(f"plan-{len(had) + 1}", priced, own))
                for _, after in scan.take(_OR_PLAN, end):
                    yield from _picked(scan, after, choices)
                yield ChoicePlan(choices), end


def _at_first(scan: Scanner, plan: SimplePlan, at: int) -> Iterator[tuple[SimplePlan, int]]:
    """The plan with the prices of its first payments, such as ``, the first 3 payments at €5.00``, or without."""
    if isinstance(plan, RepeatPlan):
        for found, begin in scan.take(_FIRST_PAYMENTS, at):
            many = int(found[1] or 1)
            is_of_it = found[2].rstrip("s") in ("payment", plan.every.unit) and (
                plan.every.count == 1 or found[2].startswith("payment")
            )
            if is_of_it and 1 <= many < (plan.payments or _MAX_FIRST):
                for own, end in _named_prices(scan, begin, {}):
                    yield replace(plan, first=FirstPayments(many, own)), end
    yield plan, at


def _own_prices(scan: Scanner, at: int) -> Iterator[tuple[dict[str, FixedPrice], int]]:
    """`` at €11.00``, or `` at €11.00 for the club and €5.00 for the tail``: by the names of things, or ``""``."""
    for _, end in scan.take(_AT, at):
        yield from _named_prices(scan, end, {})
    yield {}, at


def _named_prices(scan: Scanner, at: int, had: dict[str, FixedPrice]) -> Iterator[tuple[dict[str, FixedPrice], int]]:
    for parsed, end in prices(scan, at):
        if not isinstance(parsed.price, FixedPrice) or parsed.each:
            continue
        for _, begin in scan.take(_FOR, end):
            for name, last in scan.names(begin, re.compile(r"; or |, | and |\.?$")):
                own = {**had, name: parsed.price}
                for _, after in scan.take(_AND, last):
                    yield from _named_prices(scan, after, own)
                yield own, last
        if not had:
            yield {"": parsed.price}, end


def _window(scan: Scanner, at: int, read: _Clauses) -> Iterator[tuple[_Clauses, int]]:
    for opens, end in scan.take(_FROM, at):
        begins = _instant(opens)
        for closes, last in scan.take(_UNTIL, end):
            yield from _or_orders(scan, last, read, Window(begins, _instant(closes)))
        if begins:
            yield replace(read, window=Window(begins)), end
    for closes, end in scan.take(_UNTIL, at):
        if ends := _instant(closes):
            yield from _or_orders(scan, end, read, Window(None, ends))


def _or_orders(scan: Scanner, at: int, read: _Clauses, window: Window) -> Iterator[tuple[_Clauses, int]]:
    """``until 26 Nov 2026, 12:00 (UTC) or 40 orders``: limits of a link; without a count it may be of the offer."""
    for found, end in scan.take(_OR_ORDERS, at):
        if read.counts.orders is None:
            counted = replace(read.counts, orders=int(found[1].replace(",", "")))
            yield replace(read, open=window, counts=counted), end
    yield replace(read, window=window), at


def _steps(scan: Scanner, at: int, had: tuple[Step, ...]) -> Iterator[tuple[tuple[Step, ...], int]]:
    """``€52.00 after 10 orders and €60.00 for Tail from 1 Dec 2026, 00:00 (UTC)``"""
    for parsed, end in prices(scan, at):
        if parsed.price is None:
            continue
        named = [("", end)]
        for _, begin in scan.take(_FOR, end):
            named += list(scan.names(begin, re.compile(r" (?:after|from) \d")))
        for name, last in named:
            for step, stop in _when(scan, last, Step(name, parsed.price)):
                for _, after in scan.take(_NEXT_STEP, stop):
                    yield from _steps(scan, after, (*had, step))
                yield (*had, step), stop


def _when(scan: Scanner, at: int, step: Step) -> Iterator[tuple[Step, int]]:
    for counted, end in scan.take(_STEP_BY_COUNT, at):
        number = int(counted[1].replace(",", ""))
        by_count = (
            replace(step, after_orders=number) if counted[2].startswith("order") else replace(step, after_pieces=number)
        )
        for found, last in scan.take(_STEP_BY_DAY, end):
            yield replace(by_count, from_=_instant(found)), last
        yield by_count, end
    for found, end in scan.take(_STEP_BY_DAY, at):
        yield replace(step, from_=_instant(found)), end


def _instant(found: re.Match[str]) -> datetime | None:
    day, clock, offset, zone = found.groups()
    named = read_day(day)
    try:
        at = datetime.combine(named, time.fromisoformat(clock)) if named else None
    except ValueError:
        return None
    if at is not None and zone:
        try:
            return at.replace(tzinfo=ZoneInfo(zone))
        except (ValueError, OSError, ZoneInfoNotFoundError):
            return None
    if at is None or not offset:
        return at and at.replace(tzinfo=UTC)
    hours, minutes = (int(part) for part in offset[1:].split(":"))
    ahead = timedelta(hours=hours, minutes=minutes)
    return at.replace(tzinfo=timezone(-ahead if offset[0] == "-" else ahead)) if hours < 24 and minutes < 60 else None


def _parsed(title: str, sold: list[Thing], clauses: _Clauses, currency: str) -> ParsedLine | None:
    names = [thing.name for thing in sold]
    beside = {thing.plan for thing in sold}
    if len(beside) > 1 or (beside != {None} and clauses.plan not in (ONCE, *beside)):
        return None  # what is said of one thing does not hold for the others
    plan = _with_keys(next(filter(None, beside), clauses.plan), names)
    if plan is None:
        return None
    limits = limits_of(clauses.counts, names)
    if limits is None or any(step.line and step.line not in names for step in clauses.steps):
        return None
    if clauses.open:
        limits = replace(limits, opens_at=clauses.open.opens_at, closes_at=clauses.open.closes_at)
    steps = tuple(
        replace(step, line=f"line-{names.index(step.line) + 1 if step.line else 1}") for step in clauses.steps
    )
    lines = tuple(_line(thing, number, ships=clauses.ships) for number, thing in enumerate(sold, start=1))
    lines = tuple(_as_many_as_one_may_have(line, limits) for line in lines)
    whole = title or (names[0] if len(names) == 1 else listed(names, "and"))[:MAX_TITLE_LENGTH]
    offer = PartialOffer(whole, lines, plan, window=clauses.window)
    unsaid = tuple(words for thing in sold for words in (*thing.unsaid, thing.price.unsaid) if words)
    return ParsedLine(offer, currency, elsewhere=clauses.elsewhere, unsaid=unsaid, limits=limits, steps=steps)


def _line(thing: Thing, number: int, *, ships: bool) -> PartialLine:
    price = _price(thing)
    return PartialLine(
        f"line-{number}", thing.name, price, thing.bounds, thing.choices, thing.optional, ships, thing.once
    )


def _as_many_as_one_may_have(line: PartialLine, limits: Limits) -> PartialLine:
    """The line: where nothing else is said, whoever may have four may have them at once."""
    most = limits.pieces_per_buyer.get(line.key)
    return replace(line, quantity=Quantity(1, 1, most)) if most and line.quantity == EXACTLY_ONE else line


def _price(thing: Thing) -> Price | None:
    price = thing.price.price
    if isinstance(price, FixedPrice) and thing.breaks:
        return QuantityPrice("all_units", (Break(1, price.amount, None), *thing.breaks))
    return price


def _with_keys(plan: Plan, names: list[str]) -> Plan | None:
    """The plan with its own prices by the keys of the lines; None where one is of no line."""
    if not isinstance(plan, ChoicePlan):
        return _first_with_keys(plan, names)
    choices = []
    for choice in plan.of:
        own, simple = _by_key(choice.prices, names), _first_with_keys(choice.plan, names)
        if own is None or simple is None:
            return None
        choices.append(replace(choice, plan=simple, prices=own))
    return ChoicePlan(tuple(choices))


def _first_with_keys(plan: SimplePlan, names: list[str]) -> SimplePlan | None:
    if not isinstance(plan, RepeatPlan) or plan.first is None:
        return plan
    prices = _by_key(plan.first.prices, names)
    return None if prices is None else replace(plan, first=replace(plan.first, prices=prices))


def _by_key(prices: Mapping[str, FixedPrice], names: list[str]) -> dict[str, FixedPrice] | None:
    if any(name and name not in names for name in prices):
        return None
    return {f"line-{names.index(name) + 1 if name else 1}": price for name, price in prices.items()}
