"""What a basket picks of each line, held against what the offer allows."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from cravik.core.errors import AmountRefused, Fault
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.money import MAX_MINOR, Money
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.options import Option, addition_of, weight_of
from cravik.core.pricing.price import LevelsPrice, OpenPrice, Portion, Wanted


@dataclass(frozen=True, slots=True)
class Pick:
    """One line as it is bought: its quantity and options, and what that costs before any discount."""

    line: Line
    quantity: int
    options: tuple[Option, ...]
    wanted: Wanted
    amount: Money
    unit: Money | None
    made_of: tuple[Portion, ...]

    @property
    def weight_g(self) -> int:
        return self.quantity * (self.line.weight_g + weight_of(self.options))


@dataclass(frozen=True, slots=True)
class Picked:
    """The lines that are in the basket, as far as they could be read, and everything wrong with them.

    ``lines`` are all of them, also those with a fault; ``picks`` those without.
    """

    lines: tuple[Line, ...]
    picks: tuple[Pick, ...]
    faults: tuple[Fault, ...]
    #: Whether some line is refused at its quantity, options, level or amount.
    any_line_refused: bool


def pick(offer: Offer, basket: Basket) -> Picked:
    """Each line of the offer that is bought, in the offer's order."""
    faults = [Fault("unknown_key", at, why="unknown_in_basket", key=at) for at in basket.unknown_keys]
    asked: dict[str, tuple[str, BasketLine]] = {}
    for number, basket_line in enumerate(basket.lines):
        at = f"lines[{number}]"
        if basket_line.key in asked:
            faults.append(Fault("repeated_line", f"{at}.key", key=basket_line.key))
        elif offer.line(basket_line.key) is None:
            faults.append(Fault("unknown_line", f"{at}.key", key=basket_line.key[:80]))
        else:
            asked[basket_line.key] = (at, basket_line)
    lines, picks = [], []
    before = len(faults)
    for line in offer.lines:
        if line.optional and line.key not in asked:
            continue
        lines.append(line)
        reader = _LineReader(line, offer.currency, *asked.get(line.key, ("", BasketLine(line.key))))
        picked = reader.pick()
        if picked:
            picks.append(picked)
        faults += reader.faults
    return Picked(tuple(lines), tuple(picks), tuple(faults), len(faults) > before)


class _LineReader:
    """Reads one line of the basket, and keeps every fault. ``at`` is empty for a line left out."""

    def __init__(self, line: Line, currency: str, at: str, asked: BasketLine) -> None:
        self.line = line
        self.currency = currency
        self.at = at
        self.asked = asked
        self.faults: list[Fault] = []

    def pick(self) -> Pick | None:
        quantity = self.quantity()
        options = tuple(self.options())
        level, entered = self.level(), self.entered()
        if self.faults:
            return None
        wanted = Wanted(quantity, addition_of(options), level, entered)
        priced = self.line.price.on(wanted)
        if priced.amount.minor > MAX_MINOR:
            self.too_large()
            return None
        return Pick(self.line, quantity, options, wanted, *priced)

    def quantity(self) -> int:
        bounds = self.line.quantity
        quantity = bounds.default if self.asked.quantity is None else self.asked.quantity
        if quantity < bounds.min:
            self.fault("quantity_below_minimum", "quantity", limit=bounds.min)
        elif bounds.max is not None and quantity > bounds.max:
            self.fault("quantity_above_maximum", "quantity", limit=bounds.max)
        return quantity

    def options(self) -> Iterator[Option]:
        asked = self.asked.options
        for choice in self.line.choices:
            if choice.name not in asked:
                self.fault("option_missing", f"options.{choice.name}", choice=choice.name)
            elif option := choice.option(asked[choice.name]):
                yield option
            else:
                option_name = asked[choice.name][:80]
                self.fault("option_unknown", f"options.{choice.name}", choice=choice.name, option=option_name)
        known = {choice.name for choice in self.line.choices}
        for name in asked:
            if name not in known:
                self.fault("option_unknown", f"options.{name}", why="choice_unknown", choice=name[:80])

    def level(self) -> str | None:
        price, asked = self.line.price, self.asked.level
        if isinstance(price, LevelsPrice):
            if asked is None:
                self.fault("level_missing", "level")
            elif price.level(asked) is None:
                self.fault("level_unknown", "level", level=asked[:80])
        elif asked is not None:
            self.fault("level_unknown", "level", why="no_levels")
        return asked

    def entered(self) -> Money | None:
        """The amount that the buyer entered, or the one that stood there."""
        price, asked = self.line.price, self.asked.amount
        if not isinstance(price, OpenPrice):
            if asked is not None:
                self.fault("amount_not_wanted", "amount")
            return None
        if asked is None:
            if price.start is None:
                self.fault("amount_missing", "amount", why="line_amount_missing")
                return None
            return price.start
        most = Money(MAX_MINOR, self.currency) if price.max is None else price.max
        try:
            entered = Money.parse(asked, self.currency)
        except AmountRefused as refused:
            fault = refused.faults[0]
            if fault.code == "amount_too_large":
                self.too_much(most)
            else:
                self.fault(fault.code, "amount", **fault.fields)
            return None
        if entered < price.min:
            self.fault("amount_below_minimum", "amount", bound=price.min, limit=price.min.major)
        elif entered > most:
            self.too_much(most)
        return entered

    def too_much(self, most: Money) -> None:
        self.fault("amount_above_maximum", "amount", bound=most, limit=most.major)

    def too_large(self) -> None:
        most = Money(MAX_MINOR, self.currency)
        self.fault("quantity_above_maximum", "quantity", why="line_sum_above_maximum", most=most)

    def fault(self, code: str, part: str, **fields: Any) -> None:
        at = f"{self.at}.{part}" if self.at else "lines"
        self.faults.append(Fault(code, at, line=self.line.name, **fields))
