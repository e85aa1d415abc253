"""Visits and money over time as bars above each other, with events marked: one column a stretch of time.

The upper bars are visits, with those that paid at their foot in a darker colour; the lower ones are money. Both scales
begin at nothing and end at a round number.

>>> days = [Column("1 Nov", 40, 4, 9600), Column("2 Nov", 25, 2, 4800, events=(1,))]
>>> chart = timeline(days, 400, Axis("EUR", "€", 100))
>>> chart.height, len([mark for mark in chart.marks if isinstance(mark, Box) and mark.ink == "lichen"])
(246, 2)
>>> [round_top(number) for number in (0, 3, 7, 41, 120, 2001)]
[4, 4, 8, 50, 150, 2500]
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import ceil, log10

from cravik.core.graphics.picture import Box, Disc, Mark, Picture, Stroke, Words

_TOP, _VISITS, _BETWEEN, _MONEY, _FOOT = 40, 100, 26, 56, 24
_STEPS = (1, 1.5, 2, 2.5, 4, 5, 8, 10)
_LABEL_WIDTH = 62


@dataclass(frozen=True)
class Column:
    """A stretch of time: its label, its visits and how many paid, the money in minor units, the numbers of the events
    in it, and the sentence that says all of it."""

    label: str
    visits: int
    paid: int
    minor: int
    says: str = ""
    events: tuple[int, ...] = ()


@dataclass(frozen=True)
class Axis:
    """How sums are written: the currency, its sign, and how many minor units a major one has."""

    currency: str
    sign: str
    minor_units: int

    def words(self, minor: int) -> str:
        whole = minor / self.minor_units
        return f"{self.sign}{whole:,.0f}" if whole >= 1 or not minor else f"{self.sign}{whole:g}"


def timeline(columns: Sequence[Column], width: float, axis: Axis, title: str = "", summary: str = "") -> Picture:
    """The picture, so wide; its height is always the same. Sums below nothing, refunds alone, hang from the line."""
    marks = tuple(_marks(columns, width, axis))
    key = (("pale", "visits"), ("lichen", "paid"), ("ink", f"money in {axis.currency}"))
    return Picture(width, _TOP + _VISITS + _BETWEEN + _MONEY + _FOOT, title, summary, marks, key)


def round_top(number: float) -> int:
    """The least round number that is not below; at least 4."""
    if number <= 4:
        return 4
    power = 10 ** int(log10(number))
    tops: list[int] = [ceil(step * power) for step in _STEPS]
    return next(top for top in tops if top >= number)


def _marks(columns: Sequence[Column], width: float, axis: Axis) -> Iterator[Mark]:
    step = width / max(1, len(columns))
    visits_foot, money_foot = _TOP + _VISITS, _TOP + _VISITS + _BETWEEN + _MONEY
    most = round_top(max((column.visits for column in columns), default=0))
    dearest = round_top(max((column.minor for column in columns), default=0) / axis.minor_units) * axis.minor_units
    # What the scales end at stands where no event's line goes through it.
    ends_in_event = any(column.events for column in columns[-max(1, ceil(len(columns) * _LABEL_WIDTH / width)) :])
    for y, text in ((_TOP, f"{most:,} visits"), (money_foot - _MONEY, axis.words(dearest))):
        yield Stroke(((0, y), (width, y)), "rule")
        yield Words(0 if ends_in_event else width, y - 4, text, anchor="start" if ends_in_event else "end", size=12)
    bar = max(1.0, min(step * 0.72, 40))
    for place, column in enumerate(columns):
        x = place * step + (step - bar) / 2
        yield from _bar(x, visits_foot, bar, _VISITS * column.visits / most, "pale")
        yield from _bar(x, visits_foot, bar, _VISITS * column.paid / most, "lichen")
        yield from _bar(x, money_foot, bar, _MONEY * column.minor / dearest, "ink")
    for y in (visits_foot, money_foot):
        yield Stroke(((0, y), (width, y)), "soft")
    yield from _labels(columns, step, width, money_foot)
    yield from _events(columns, step, visits_foot)
    for place, column in enumerate(columns):
        if column.says:
            yield Box(round(place * step, 2), 0, round(step, 2), money_foot, says=column.says)


def _bar(x: float, foot: float, width: float, height: float, ink: str) -> Iterator[Box]:
    """From the foot upwards; what is there at all is seen. A sum below nothing hangs down a little."""
    if height > 0:
        tall = max(height, 1.5)
        yield Box(round(x, 2), round(foot - tall, 2), round(width, 2), round(tall, 2), ink)
    elif height < 0:
        yield Box(round(x, 2), foot, round(width, 2), round(min(-height, 6), 2), "madder")


def _labels(columns: Sequence[Column], step: float, width: float, foot: float) -> Iterator[Words]:
    every = max(1, ceil(_LABEL_WIDTH / step)) if step else 1
    for place in range(0, len(columns), every):
        x = place * step + step / 2
        room = x - 30 >= 0 and x + 30 <= width
        yield Words(
            round(x if room else (0 if x < width / 2 else width), 1),
            foot + 17,
            columns[place].label,
            anchor="middle" if room else ("start" if x < width / 2 else "end"),
            size=12,
        )


def _events(columns: Sequence[Column], step: float, foot: float) -> Iterator[Mark]:
    for place, column in enumerate(columns):
        if not column.events:
            continue
        x = round(place * step + step / 2, 1)
        yield Stroke(((x, 20), (x, foot)), "teal", dashed=True)
        yield Disc(x, 11, 9, "teal")
        text = str(column.events[0]) if len(column.events) == 1 else f"{column.events[0]}+"
        yield Words(x, 15, text, size=11, ink="sheet", anchor="middle", bold=True)
