"""The smallest order that an offer allows: every line at its least, and no extras."""

from __future__ import annotations

from typing import NamedTuple

from cravik.core.pricing.money import Money, total_of
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.options import least_addition
from cravik.core.pricing.price import MAX_IN_BUNDLES, BundlesPrice, LevelsPrice, OpenPrice, QuantityPrice, Wanted


class SmallestLine(NamedTuple):
    """A line at its least: how many, and what they cost."""

    line: Line
    quantity: int
    amount: Money


def smallest_lines(offer: Offer) -> list[SmallestLine]:
    """What the smallest order holds; where every line is an extra, the cheapest of them."""
    wanted = [smallest_line(line) for line in offer.lines if not line.optional]
    return wanted or [min((smallest_line(line) for line in offer.lines), key=lambda line: line.amount)]


def smallest_amount(offer: Offer) -> Money:
    """What the smallest order costs, before delivery and tax."""
    return total_of((line.amount for line in smallest_lines(offer)), offer.currency)


def smallest_line(line: Line) -> SmallestLine:
    """The quantity and options at which the line costs least."""
    add = least_addition(line.choices)
    level: str | None = None
    entered: Money | None = None
    quantities = [line.quantity.min]
    match line.price:
        case LevelsPrice(levels=levels):
            level = min(levels, key=lambda level: level.amount).key
        case OpenPrice(min=least):
            entered = least
        case QuantityPrice(breaks=breaks):
            # A break may make more units cheaper than fewer.
            most = line.quantity.max
            quantities += [
                each.from_ for each in breaks if each.from_ > quantities[0] and (not most or each.from_ <= most)
            ]
        case BundlesPrice() as bundled:
            # And so may a bundle.
            sums = bundled.sums_up_to(line.quantity.max or MAX_IN_BUNDLES, add)
            quantities = [min(range(line.quantity.min, len(sums)), key=sums.__getitem__)]
    amounts = [(line.price.on(Wanted(quantity, add, level, entered)).amount, quantity) for quantity in quantities]
    amount, quantity = min(amounts)
    return SmallestLine(line, quantity, amount)
