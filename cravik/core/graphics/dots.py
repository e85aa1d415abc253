"""Rates as dots with their likely bounds, all on one shared scale from nothing to a round share above the highest.

>>> from cravik.core.statistics.rates import conversion
>>> chart = dot_chart([conversion(40, 412), conversion(3, 12), conversion(9, 300)])
>>> chart.top, [tick.label.split()[0] for tick in chart.ticks]
(0.15, ['0', '5', '10', '15'])
>>> [None if dot is None else (dot.low, dot.at, dot.high) for dot in chart.dots]
[(144.2, 194.2, 259.0), None, (31.7, 60.0, 112.0)]
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from cravik.core.graphics.picture import Disc, Mark, Picture, Stroke, Words, shortened
from cravik.core.statistics.rates import Rate

#: The width of the scale, in the units of the drawing.
WIDTH = 300
_TOPS = (0.01, 0.02, 0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.8, 1.0)
_STEPS = {0.01: 2, 0.02: 2, 0.05: 5, 0.15: 3, 0.25: 5, 0.3: 3, 0.6: 3}


@dataclass(frozen=True)
class Dot:
    """Where a rate and its bounds lie, from 0 to ``WIDTH``."""

    low: float
    at: float
    high: float


@dataclass(frozen=True)
class Tick:
    """A place of the scale, and the share that it stands for, in words."""

    x: float
    label: str


@dataclass(frozen=True)
class DotChart:
    """A dot for each rate, in their order; None where there are too few visits to tell."""

    top: float
    ticks: tuple[Tick, ...]
    dots: tuple[Dot | None, ...]


def dot_chart(rates: Sequence[Rate]) -> DotChart:
    """The rates on one scale, which reaches to the highest bound of those that tell."""
    highest = max((rate.high for rate in rates if rate.tells), default=0.0)
    top = next(top for top in _TOPS if top >= min(highest, 1.0))
    steps = _STEPS.get(top, 4)
    ticks = tuple(Tick(round(WIDTH * step / steps, 1), _percent(top * step / steps)) for step in range(steps + 1))
    dots = (
        Dot(*(round(WIDTH * share / top, 1) for share in (rate.low, rate.share, rate.high))) if rate.tells else None
        for rate in rates
    )
    return DotChart(top, ticks, tuple(dots))


def _percent(share: float) -> str:
    return f"{100 * share:.4g}\N{NO-BREAK SPACE}%"


#: Of the picture: its width, a row's height, where the scale begins, and how many rows it has at most.
_WIDE, _ROW, _LEFT, MOST_ROWS = 760, 30, 250, 40


def dot_picture(named: Sequence[tuple[str, Rate, str]], title: str, summary: str) -> Picture:
    """Each of those that are ``named``, its rate and what is said of it, one below the other on one scale; the first
    ``MOST_ROWS`` of them."""
    shown = named[:MOST_ROWS]
    height = 46 + _ROW * len(shown) + (24 if len(named) > len(shown) else 8)
    return Picture(_WIDE, height, title, summary, tuple(_dot_marks(shown, len(named) - len(shown))))


def _dot_marks(named: Sequence[tuple[str, Rate, str]], more: int) -> Iterator[Mark]:
    chart = dot_chart([rate for _, rate, _ in named])
    foot = 30 + _ROW * len(named)
    for tick in chart.ticks:
        x = _LEFT + tick.x
        yield Words(x, 20, tick.label, anchor="middle")
        yield Stroke(((x, 28), (x, foot)), "rule")
    for place, ((name, _, says), dot) in enumerate(zip(named, chart.dots, strict=True)):
        y = 45 + _ROW * place
        yield Words(0, y + 5, shortened(name, 34), size=14, ink="ink")
        yield Words(_LEFT + WIDTH + 16, y + 5, says)
        if dot:
            low, at, high = (round(_LEFT + part, 1) for part in (dot.low, dot.at, dot.high))
            yield Stroke(((low, y), (high, y)), "ink", 2)
            yield from (Stroke(((x, y - 5), (x, y + 5)), "ink", 2) for x in (low, high))
            yield Disc(at, y, 6, "madder")
    if more:
        yield Words(0, foot + 20, f"and {more:,} more")
