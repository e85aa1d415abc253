"""One thing that is sold, as it is said: its price and name in either order, its options, and how many there may be.

Both ``48 for a Delta kite in 1.2 m or 1.8 m, up to 3`` and ``Spar set 12, from 10 pieces 10.50`` are one.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import EXACTLY_ONE, Quantity
from cravik.core.pricing.options import Option, OptionGroup
from cravik.core.pricing.price import MAX_IN_BUNDLES, Break, BundlesPrice, FixedPrice, PacksPrice, QuantityPrice
from cravik.core.pricing.schedule import RepeatPlan
from cravik.core.text.parsing.plans import ended, steps
from cravik.core.text.parsing.prices import ParsedPrice, buy_and_get, prices, so_many_for
from cravik.core.text.parsing.scanner import Scanner, once_a_place

_WANTED = re.compile(r"(?:if wanted,?|optional(?:ly)?:?) ", re.IGNORECASE)
_FOR = re.compile(r" for (?=\S)")
#: What may stand between a name and its price.
_BETWEEN = re.compile(r"(?: (?=for nothing)|: | [–—-] |, | at | costs | for | )(?=\S)")
#: Where a name may end: what follows a thing begins, or nothing does.
_NAME_ENDS = re.compile(
    r" in |, |; | and | (?=every |monthly|weekly|yearly|daily|annually|a (?:day|week|month|year)\b|per |paid )|\.?$"
)
_NAME_ENDS_BEFORE_PRICE = re.compile(
    r" in |(?::| [–—-]|,| at| costs| for)? "
    r"(?=\d|[^\w\s]\s?\d|[A-Z]{1,3}\$?\s?\d|(?:pay )?what |free\b|nothing |for nothing)"
)
_IN, _AND_IN = re.compile(r" in "), re.compile(r",? and in ")
_OPTION_ENDS = re.compile(
    r"(?= \()|, | or | only\b|; | and |(?::| at)? (?=[\d€£$¥])| (?=every |monthly|weekly|yearly|in \d)|\.?$"
)
_ADDS = re.compile(r" \((?P<sign>[+−-])?")
_LESS_OR_MORE = re.compile(r" ?(less|more)?\)")
_COMMA, _OR, _ONLY = re.compile(r", "), re.compile(r",? or "), re.compile(r" only\b")
_COUNTED = re.compile(r"one of (\d+) for ([^,;.]+)")
#: What no name of an option has: there it ended before.
_NO_OPTION = re.compile(r"[,()]| or | and in ")
_SEPARATOR = re.compile(r",? ")
_NUMBER = r"(\d[\d,]{0,10})"
_QUANTITIES: tuple[tuple[re.Pattern[str], Callable[[list[int]], Quantity]], ...] = (
    (re.compile(r"as many as (?:wanted|you like|they like)\b"), lambda _: Quantity(1, 1, None)),
    (re.compile(r"only one\b"), lambda _: EXACTLY_ONE),
    (re.compile(rf"always {_NUMBER}\b"), lambda n: Quantity(n[0], n[0], n[0])),
    (re.compile(rf"(?:up to|at most|max\.?|maximum) {_NUMBER}\b"), lambda n: Quantity(1, 1, n[0])),
    (re.compile(rf"from {_NUMBER} (?:up )?to {_NUMBER}\b"), lambda n: Quantity(n[0], n[0], n[1])),
    (
        re.compile(rf"(?:(?:at least|min\.?|minimum) {_NUMBER}|{_NUMBER} or more)\b"),
        lambda n: Quantity(n[0], n[0], None),
    ),
)
_FROM_PIECES = re.compile(rf"(?:and )?from {_NUMBER}(?: (?:pieces|pcs|units|on|up))?:? (?=\S)")
_OR_MORE_AT = re.compile(rf"(?:and )?{_NUMBER} or more(?: at|:)? (?=\S)")
_EACH = re.compile(r" (?:each|a piece|apiece)\b")
_FROM_ON = re.compile(rf" (?:from {_NUMBER}(?: (?:pieces|pcs|units))?(?: on)?|for {_NUMBER} or more)(?![\d.,]*\d)\b")
_ONCE = re.compile(r"charged only once\b")
_OPTIONAL = re.compile(r"(?:if wanted|optional|as an extra)\b")
_MAX_QUANTITY, _MAX_GROUPS, _MAX_OPTIONS = 1_000_000_000, 4, 24
MANY = Quantity(1, 1, None)


@dataclass(frozen=True)
class Thing:
    """One thing that is sold, as far as it was said; ``unsaid`` are its parts of which the text tells only how many."""

    name: str
    price: ParsedPrice
    choices: tuple[OptionGroup, ...] = ()
    quantity: Quantity | None = None
    optional: bool = False
    once: bool = False
    breaks: tuple[Break, ...] = ()
    #: How often it is paid, where that was said beside its price.
    plan: RepeatPlan | None = None
    unsaid: tuple[str, ...] = ()

    @property
    def bounds(self) -> Quantity:
        """How many can be bought: what was said, or what the price speaks of."""
        if self.quantity is not None:
            return self.quantity
        if isinstance(self.price.price, BundlesPrice):
            return Quantity(1, 1, MAX_IN_BUNDLES)
        if isinstance(self.price.price, PacksPrice):
            return Quantity(self.price.price.size, 1, None)
        many = self.price.each or self.breaks or isinstance(self.price.price, QuantityPrice)
        return MANY if many else EXACTLY_ONE


@once_a_place
def things(scan: Scanner, at: int) -> Iterator[tuple[Thing, int]]:
    """Every way to read one thing at the place."""
    for optional, begin in _wanted(scan, at):
        for thing, end in (*_price_first(scan, begin), *_name_first(scan, begin)):
            for more, last in _tail(scan, replace(thing, optional=optional), end):
                if _is_whole(more):
                    yield more, last


def _wanted(scan: Scanner, at: int) -> Iterator[tuple[bool, int]]:
    for _, end in scan.take(_WANTED, at):
        yield True, end
    yield False, at


def _price_first(scan: Scanner, at: int) -> Iterator[tuple[Thing, int]]:
    for price, end in prices(scan, at):
        for plan, end in _how_often(scan, end):
            for _, end in scan.take(_FOR, end):
                for name, end in scan.names(end, _NAME_ENDS):
                    for thing, end in _chosen(scan, Thing(name, price, plan=plan), end):
                        yield thing, end


def _how_often(scan: Scanner, at: int) -> Iterator[tuple[RepeatPlan | None, int]]:
    """``a month`` between a price and its thing."""
    for _, end in scan.take(_SEPARATOR, at):
        for plan, end in steps(scan, end):
            yield plan, end
    yield None, at


def _name_first(scan: Scanner, at: int) -> Iterator[tuple[Thing, int]]:
    for name, end in scan.names(at, _NAME_ENDS_BEFORE_PRICE):
        for thing, end in _chosen(scan, Thing(name, ParsedPrice(None)), end):
            for _, end in scan.take(_BETWEEN, end):
                for price, end in prices(scan, end):
                    for more, end in _chosen(scan, replace(thing, price=price), end):
                        yield more, end


def _chosen(scan: Scanner, thing: Thing, at: int) -> Iterator[tuple[Thing, int]]:
    """The thing with the groups of options that follow, or without."""
    if not thing.choices:
        for _, end in scan.take(_IN, at):
            for groups, end in _groups(scan, end, len(thing.choices) + 1):
                parsed = tuple(group for group, _ in groups if group)
                unsaid = tuple(words for _, words in groups if words)
                yield replace(thing, choices=parsed, unsaid=(*thing.unsaid, *unsaid)), end
    yield thing, at


def _groups(scan: Scanner, at: int, number: int) -> Iterator[tuple[list[tuple[OptionGroup | None, str]], int]]:
    for found, end in scan.take(_COUNTED, at):
        words = f"the {found[1]} options for {found[2].strip()}"
        yield from _more_groups(scan, [(None, words)], end, number)
    for options, end in _options(scan, at):
        group = OptionGroup("Option" if number == 1 else f"Option {number}", tuple(options))
        yield from _more_groups(scan, [(group, "")], end, number)


def _more_groups(
    scan: Scanner, groups: list[tuple[OptionGroup | None, str]], at: int, number: int
) -> Iterator[tuple[list[tuple[OptionGroup | None, str]], int]]:
    for _, end in scan.take(_AND_IN, at):
        for more, end in _groups(scan, end, number + 1):
            if len(groups) + len(more) <= _MAX_GROUPS:
                yield [*groups, *more], end
    yield groups, at


@once_a_place
def _options(scan: Scanner, at: int) -> Iterator[tuple[list[Option], int]]:
    """``A, B or C``, or ``A only``."""
    for option, end in _option(scan, at):
        for _, last in scan.take(_ONLY, end):
            yield [option], last
        for others, last in _other_options(scan, end):
            if len(others) < _MAX_OPTIONS and option.name not in {each.name for each in others}:
                yield [option, *others], last


@once_a_place
def _other_options(scan: Scanner, at: int) -> Iterator[tuple[list[Option], int]]:
    """``, B or C`` or `` or C``."""
    for _, end in scan.take(_OR, at):
        for option, end in _option(scan, end):
            yield [option], end
    for _, end in scan.take(_COMMA, at):
        for option, end in _option(scan, end):
            for others, end in _other_options(scan, end):
                if option.name not in {each.name for each in others}:
                    yield [option, *others], end


@once_a_place
def _option(scan: Scanner, at: int) -> Iterator[tuple[Option, int]]:
    for name, end in scan.names(at, _OPTION_ENDS):
        if _NO_OPTION.search(name):
            return
        for found, begin in scan.take(_ADDS, end):
            for add, last in scan.amount(begin):
                for words, last in scan.take(_LESS_OR_MORE, last):
                    if bool(found["sign"]) != bool(words[1]):
                        less = words[1] == "less" or found["sign"] in ("-", "−")
                        yield Option(name, -add if less else add), last
        yield Option(name), end


def _tail(scan: Scanner, thing: Thing, at: int) -> Iterator[tuple[Thing, int]]:
    """The thing with what follows it of how many, at which quantities, whether it is an extra; the most first."""
    if thing.plan and thing.plan.payments is None and thing.plan.trial is None:
        for plan, end in ended(scan, thing.plan, at):
            yield from _tail(scan, replace(thing, plan=plan), end)
    for _, begin in scan.take(_SEPARATOR, at):
        for more, end in _followed(scan, thing, begin):
            yield from _tail(scan, more, end)
    yield thing, at


def _followed(scan: Scanner, thing: Thing, at: int) -> Iterator[tuple[Thing, int]]:
    yield from _further_break(scan, thing, at)
    yield from _further_bundle(scan, thing, at)
    if thing.quantity is None:
        for pattern, bounds in _QUANTITIES:
            for found, end in scan.take(pattern, at):
                numbers = [int(number.replace(",", "")) for number in found.groups() if number]
                if all(1 <= number <= _MAX_QUANTITY for number in numbers) and numbers == sorted(numbers):
                    yield replace(thing, quantity=bounds(numbers)), end
    if not thing.once:
        for _, end in scan.take(_ONCE, at):
            yield replace(thing, once=True), end
    if not thing.optional:
        for _, end in scan.take(_OPTIONAL, at):
            yield replace(thing, optional=True), end


def _further_break(scan: Scanner, thing: Thing, at: int) -> Iterator[tuple[Thing, int]]:
    """``from 10 pieces 10.50``, ``10 or more at 10.50``, ``10.50 each from 10 on``."""
    if not isinstance(thing.price.price, FixedPrice) or thing.price.price.was:
        return
    for pattern in (_FROM_PIECES, _OR_MORE_AT):
        for found, begin in scan.take(pattern, at):
            for unit, end in scan.amount(begin):
                for end in _over(scan, _EACH, end):
                    yield from _with_break(thing, found[1], unit, end)
    for unit, end in scan.amount(at):
        for end in _over(scan, _EACH, end):
            for found, last in scan.take(_FROM_ON, end):
                yield from _with_break(thing, found[1] or found[2], unit, last)


def _further_bundle(scan: Scanner, thing: Thing, at: int) -> Iterator[tuple[Thing, int]]:
    """``3 for 5`` and ``buy 2, get 1`` after a thing that has a price each."""
    price = thing.price.price
    if thing.breaks or not (isinstance(price, BundlesPrice) or (isinstance(price, FixedPrice) and not price.was)):
        return
    unit, before = (price.unit, price.bundles) if isinstance(price, BundlesPrice) else (price.amount, ())
    found = [*so_many_for(scan, unit, before, at), *([] if before else buy_and_get(scan, unit, at))]
    for bundle, end in found:
        yield replace(thing, price=ParsedPrice(BundlesPrice(unit, (*before, bundle)), each=True)), end


def _over(scan: Scanner, pattern: re.Pattern[str], at: int) -> Iterator[int]:
    yield next((end for _, end in scan.take(pattern, at)), at)


def _with_break(thing: Thing, number: str, unit: Money, end: int) -> Iterator[tuple[Thing, int]]:
    from_ = int(number.replace(",", ""))
    if from_ > (thing.breaks[-1].from_ if thing.breaks else 1):
        yield replace(thing, breaks=(*thing.breaks, Break(from_, unit, None))), end


def _is_whole(thing: Thing) -> bool:
    """Whether it can be sold as it was said: additions need a price of one's own, and leave something of it."""
    adds = [option.add for group in thing.choices for option in group.options if option.add]
    takes_adds = thing.price.price is None or thing.price.price.takes_adds
    return takes_adds or not adds
