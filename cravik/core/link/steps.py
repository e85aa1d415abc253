"""Steps: prices that take over after so many orders or pieces, or at an instant, while the link stays open.

>>> from cravik.core.pricing.money import Money
>>> from cravik.core.pricing.offer import simple_offer
>>> seat = simple_offer("Seat", Money(15_000, "EUR"))
>>> dearer = Step("purpose", replace(seat.lines[0].price, amount=Money(20_000, "EUR")), after_orders=10)
>>> [offer_at(seat, (dearer,), None, Counted(orders)).lines[0].price.amount.major for orders in (9, 10)]
['150.00', '200.00']
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from cravik.core.link.counted import Counted
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.price import Price


@dataclass(frozen=True, slots=True)
class Step:
    """The price of ``line`` once ``after_orders`` orders or ``after_pieces`` of its pieces are counted, or from the
    instant ``from_`` on. What one order takes beyond the count is at the price that held before it."""

    line: str
    price: Price
    after_orders: int | None = None
    after_pieces: int | None = None
    from_: datetime | None = None

    def is_reached(self, instant: datetime | None, counted: Counted) -> bool:
        left = self.left(counted)
        by_count = left is not None and left <= 0
        return by_count or (self.from_ is not None and instant is not None and instant >= self.from_)

    def left(self, counted: Counted) -> int | None:
        """How many more orders, or pieces, it takes until it holds; None where it doesn't come by a count."""
        if self.after_orders is not None:
            return self.after_orders - counted.orders
        return None if self.after_pieces is None else self.after_pieces - counted.pieces_of(self.line)


def reached_steps(steps: Sequence[Step], instant: datetime | None, counted: Counted) -> tuple[Step, ...]:
    """Those that hold at ``instant`` after what is ``counted``."""
    return tuple(step for step in steps if step.is_reached(instant, counted))


def offer_at(offer: Offer, steps: Sequence[Step], instant: datetime | None, counted: Counted) -> Offer:
    """The offer that holds at ``instant`` after what is ``counted``.

    Of a line's steps the last listed that is reached holds.
    """
    return with_steps(offer, reached_steps(steps, instant, counted))


def left_at_prices(steps: Sequence[Step], instant: datetime | None, counted: Counted) -> dict[str, int]:
    """How many more orders, or pieces, each line has at its present price, where a step by count ends it."""
    left: dict[str, int] = {}
    for step in steps:
        more = step.left(counted)
        if more is not None and not step.is_reached(instant, counted):
            left[step.line] = min(more, left.get(step.line, more))
    return left


def with_steps(offer: Offer, reached: Sequence[Step]) -> Offer:
    """The offer at the prices of the steps that are reached, the last of each line."""
    prices = {step.line: step.price for step in reached}
    if not prices:
        return offer
    return replace(offer, lines=tuple(replace(line, price=prices.get(line.key, line.price)) for line in offer.lines))
