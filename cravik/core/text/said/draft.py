"""What is put together of a line's pieces: things with their prices, and what is said of the whole."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

from cravik.core.link.asks import Ask
from cravik.core.link.limits import CodeRule
from cravik.core.link.questions import Question
from cravik.core.pricing.discounts import Code
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import EXACTLY_ONE, Quantity
from cravik.core.pricing.options import OptionGroup
from cravik.core.pricing.price import (
    MAX_IN_BUNDLES,
    Break,
    Bundle,
    BundlesPrice,
    FixedPrice,
    LevelsPrice,
    OpenPrice,
    PacksPrice,
    Price,
    QuantityPrice,
)
from cravik.core.pricing.schedule import InstalmentsPlan, RepeatPlan, SimplePlan
from cravik.core.text.said.pieces import Choice, Doubt, Line, Piece

MANY = Quantity(1, 1, None)


@dataclass(frozen=True)
class SaidPrice:
    """A sum, and what is said of it in one breath: of ``each``, of a ``pack`` of so many, ``was`` so much before, how
    often it is paid; ``extra`` if it is of something besides, ``once`` if it is charged once, ``regular`` if it is the
    one that holds later."""

    amount: Money
    each: bool = False
    pack: int | None = None
    was: Money | None = None
    plan: RepeatPlan | InstalmentsPlan | None = None
    extra: bool = False
    once: bool = False
    regular: bool = False
    name: str = ""
    noun: str = ""
    #: Of an extra of what repeats: whether it is said to be paid with every payment.
    every_time: bool = False


@dataclass
class Thing:
    """One thing that is sold: where it begins in the line, and the tokens of its name."""

    name: str
    start: int
    span: tuple[int, int] = (0, 0)
    price: SaidPrice | None = None
    #: A price of another kind than a sum.
    other: Price | None = None
    breaks: list[Break] = field(default_factory=list)
    bundles: list[Bundle] = field(default_factory=list)
    choices: list[OptionGroup] = field(default_factory=list)
    quantity: Quantity | None = None
    optional: bool = False
    once: bool = False
    #: Where its price ends in the line, of what is besides.
    end: int = 0

    @property
    def has_price(self) -> bool:
        return self.price is not None or self.other is not None

    @property
    def final_price(self) -> Price | None:
        if self.other is not None or self.price is None:
            return self.other
        if self.price.pack:
            return PacksPrice(self.price.pack, self.price.amount)
        if self.bundles:
            return BundlesPrice(self.price.amount, tuple(self.bundles))
        if self.breaks:
            return QuantityPrice("all_units", (Break(1, self.price.amount, None), *self.breaks))
        return FixedPrice(self.price.amount, self.price.was)

    @property
    def bounds(self) -> Quantity:
        """How many can be bought: what was said, or what the price speaks of."""
        if self.quantity is not None:
            is_endless = self.quantity.max is None and isinstance(self.final_price, BundlesPrice)
            return replace(self.quantity, max=MAX_IN_BUNDLES) if is_endless else self.quantity
        match self.final_price:
            case BundlesPrice():
                return Quantity(1, 1, MAX_IN_BUNDLES)
            case PacksPrice(size=size):
                return Quantity(size, 1, None)
            case QuantityPrice():
                return MANY
        return MANY if self.price and self.price.each else EXACTLY_ONE

    @property
    def takes_adds(self) -> bool:
        return not isinstance(self.final_price, LevelsPrice | OpenPrice | PacksPrice)


@dataclass(frozen=True)
class SaidStep:
    """A price that holds ``before`` and one ``after`` so many orders, or the instant ``from_``; one of the two prices
    may be the thing's own."""

    before: Money | None = None
    after: Money | None = None
    orders: int | None = None
    from_: datetime | None = None
    pieces: int | None = None


@dataclass
class Draft:
    """What a line comes to. ``strays`` are words of which nothing was made, ``wrong`` what can't be as it is said."""

    line: Line
    pieces: Sequence[Piece]
    title: str = ""
    things: list[Thing] = field(default_factory=list)
    plan: SimplePlan | None = None
    #: Further plans that the buyer may pick instead, each with its own price where it has one.
    others: list[tuple[SimplePlan, Money | None]] = field(default_factory=list)
    codes: list[Code] = field(default_factory=list)
    code_rules: dict[str, CodeRule] = field(default_factory=dict)
    steps: list[tuple[Thing, SaidStep]] = field(default_factory=list)
    opens_at: datetime | None = None
    closes_at: datetime | None = None
    orders: int | None = None
    orders_per_buyer: int | None = None
    counted: list[tuple[Thing, int]] = field(default_factory=list)
    per_buyer: list[tuple[Thing, int]] = field(default_factory=list)
    phone: Ask = "no"
    address: Ask = "no"
    note: str | None = None
    invoice: bool = False
    questions: list[Question] = field(default_factory=list)
    labels: list[str] = field(default_factory=list)
    button: str = ""
    notes: list[str] = field(default_factory=list)
    elsewhere: list[str] = field(default_factory=list)
    ships: bool = False
    any_of: bool = False
    price_later: bool = False
    #: Whether what is said to be an extra is all that has a price.
    only_extra: bool = False
    strays: list[tuple[int, int]] = field(default_factory=list)
    wrong: list[tuple[Piece, str]] = field(default_factory=list)
    doubts: list[Doubt] = field(default_factory=list)

    def pieces_of(self, *roles: str) -> list[Piece]:
        """The pieces of the roles, but for those that can't be."""
        return [piece for piece in self.pieces if piece.role in roles and not piece.wrong]

    def has(self, *roles: str) -> bool:
        return any(piece.role in roles for piece in self.pieces)

    @property
    def main(self) -> Thing | None:
        """What is sold first and foremost."""
        return next((thing for thing in self.things if not (thing.optional or thing.once)), None) or next(
            iter(self.things), None
        )

    def thing_at(self, place: int) -> Thing | None:
        """The thing that was named last before the place."""
        before = [thing for thing in self.things if thing.start <= place]
        return max(before, key=lambda thing: thing.start) if before else next(iter(self.things), None)

    @classmethod
    def begun(cls, line: Line, pieces: Sequence[Piece]) -> Draft:
        """A draft of copies of the pieces, with what is wrong and in doubt about each."""
        draft = cls(line, tuple(replace(piece) for piece in pieces))
        draft.wrong = [(piece, piece.wrong) for piece in draft.pieces if piece.wrong]
        draft.doubts = [doubt for piece in draft.pieces for doubt in piece.doubts]
        return draft

    def called(self, name: str) -> Thing | None:
        """The thing of that name; what was named in the singular is meant by the plural, too."""
        plain = name.casefold()
        return next((thing for thing in self.things if thing.name.casefold() in (plain, plain.removesuffix("s"))), None)

    def refuse(self, piece: Piece, why: str = "") -> None:
        """The piece can't be understood so: it counts as missed."""
        self.wrong.append((piece, why))

    def ask(self, start: int, end: int, question: str, choices: Mapping[str, str]) -> None:
        """Ask about the words from ``start`` to ``end``; each choice with what it would stand as."""
        line = self.line
        self.doubts.append(
            Doubt(
                line.text(start, end),
                question,
                tuple(Choice(words, line.replaced(start, end, by)) for words, by in choices.items()),
            )
        )

    def ask_for_line(self, start: int, end: int, question: str, choices: Mapping[str, str]) -> None:
        """The same where each choice is a whole line."""
        self.doubts.append(
            Doubt(
                self.line.text(start, end),
                question,
                tuple(Choice(words, " ".join(line.split())) for words, line in choices.items()),
            )
        )
