"""The curve of a price by quantity: what so many cost in all, and each, as points to draw; and where more costs less.

>>> from cravik.core.pricing.price import Break
>>> breaks = (Break(1, Money(1200, "EUR")), Break(10, Money(1000, "EUR")))
>>> curve = price_curve(QuantityPrice("all_units", breaks), least=1, most=None)
>>> [(dip.first, dip.last, dip.cheaper, dip.total.major) for dip in curve.dips]
[(9, 9, 10, '100.00')]
>>> [(row.quantity, row.unit.major, row.total.major) for row in curve.rows]
[(1, '12.00', '12.00'), (9, '12.00', '108.00'), (10, '10.00', '100.00'), (20, '10.00', '200.00')]
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from cravik.core.pricing.money import Money
from cravik.core.pricing.price import QuantityPrice, Wanted

#: The drawing's size in its own units; the lower part, for the price each, is the smaller.
WIDTH, TOTAL_HEIGHT, UNIT_HEIGHT = 480, 130, 70
_MAX_SAMPLES = 240


class Row(NamedTuple):
    """What ``quantity`` units cost in all, and each on average, rounded down to the minor unit."""

    quantity: int
    unit: Money
    total: Money


class Dip(NamedTuple):
    """Where more costs less: each quantity from ``first`` to ``last`` costs more than ``cheaper`` units do. On the
    drawing it begins at ``x`` and is so ``wide``."""

    first: int
    last: int
    cheaper: int
    total: Money
    x: float
    wide: float


class Mark(NamedTuple):
    """A break on the drawing: where it stands on both curves, and the quantity."""

    x: float
    total_y: float
    unit_y: float
    quantity: int


class Curve(NamedTuple):
    """``total`` and ``unit`` are the points of two lines as SVG has them; ``rows`` are the table behind them."""

    total: str
    unit: str
    marks: tuple[Mark, ...]
    rows: tuple[Row, ...]
    dips: tuple[Dip, ...]
    most: int
    greatest: Money


def price_curve(price: QuantityPrice, least: int, most: int | None) -> Curve:
    """The curve from the ``least`` quantity to the ``most``, or to twice the last break where there is no bound."""
    last_break = price.breaks[-1].from_
    end = most if most is not None else max(2 * last_break, least + 9)
    quantities = _sampled(price, least, end)
    rows = [_row(price, quantity) for quantity in quantities]
    greatest, dearest = max(row.total for row in rows), max(row.unit for row in rows)

    def x(quantity: int) -> float:
        return round(WIDTH * (quantity - least) / max(end - least, 1), 1)

    def total_y(total: Money) -> float:
        return round(TOTAL_HEIGHT * (1 - total.minor / max(greatest.minor, 1)), 1)

    def unit_y(unit: Money) -> float:
        return round(UNIT_HEIGHT * (1 - unit.minor / max(dearest.minor, 1)), 1)

    breaks = [each.from_ for each in price.breaks if least < each.from_ <= end]
    at_break = [_row(price, quantity) for quantity in breaks]
    return Curve(
        total=" ".join(f"{x(row.quantity)},{total_y(row.total)}" for row in rows),
        unit=" ".join(f"{x(row.quantity)},{unit_y(row.unit)}" for row in rows),
        marks=tuple(Mark(x(row.quantity), total_y(row.total), unit_y(row.unit), row.quantity) for row in at_break),
        rows=tuple(_row(price, quantity) for quantity in _turning_points(breaks, least, end)),
        dips=tuple(
            Dip(first, last, cheaper, total, x(first), round(x(cheaper) - x(first), 1))
            for first, last, cheaper, total in _dips(price, breaks, least)
        ),
        most=end,
        greatest=greatest,
    )


def _row(price: QuantityPrice, quantity: int) -> Row:
    total = price.on(Wanted(quantity)).amount
    return Row(quantity, Money(total.minor // quantity, total.currency), total)


def _sampled(price: QuantityPrice, least: int, end: int) -> list[int]:
    """Every quantity, or as many as can be told apart, with those on both sides of each break."""
    step = max(1, (end - least) // _MAX_SAMPLES)
    sides = {side for each in price.breaks for side in (each.from_ - 1, each.from_) if least <= side <= end}
    return sorted({*range(least, end + 1, step), end, *sides})


def _turning_points(breaks: Sequence[int], least: int, end: int) -> list[int]:
    return sorted({least, end, *(side for each in breaks for side in (each - 1, each) if side >= least)})


def _dips(price: QuantityPrice, breaks: Sequence[int], least: int) -> Iterator[tuple[int, int, int, Money]]:
    """For each break, the first and last quantity before it that cost more, itself, and what it costs.

    Between breaks the total only grows, so they are found by halving.
    """
    for place, start in enumerate(breaks):
        total = price.on(Wanted(start)).amount
        low, last = (breaks[place - 1] if place else least), start - 1
        if last < low or price.on(Wanted(last)).amount <= total:
            continue
        high = last
        while low < high:
            middle = (low + high) // 2
            if price.on(Wanted(middle)).amount > total:
                high = middle
            else:
                low = middle + 1
        yield low, last, start, total
