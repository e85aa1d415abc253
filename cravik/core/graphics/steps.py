"""How many stay, as a falling line of steps within its likely bounds; months below, shares at the left."""

from __future__ import annotations

from collections.abc import Iterator

from cravik.core.graphics.picture import Box, Mark, Picture, Stroke, Words
from cravik.core.statistics.staying import Staying

_TALL, _LEFT, _TOP = 200, 52, 14
#: The least room for a month's number.
_FOR_A_MONTH = 44
#: Days of a month, on average.
MONTH = 365.2425 / 12


def steps_picture(found: Staying, title: str, summary: str, width: int) -> Picture:
    """``width`` is in the picture's own units, of which its letters are 13 high."""
    key = (("teal", "share that stays"), ("pale", "likely between these"))
    return Picture(width, _TOP + _TALL + 40, title, summary, tuple(_marks(found, width)), key)


def _marks(found: Staying, width: int) -> Iterator[Mark]:
    months = max(found.longest / MONTH, 1)

    def x(days: float) -> float:
        return round(_LEFT + (days / MONTH) / months * (width - _LEFT - 8), 1)

    def y(share: float) -> float:
        return round(_TOP + _TALL * (1 - share), 1)

    for share in (0.0, 0.25, 0.5, 0.75, 1.0):
        yield Stroke(((_LEFT, y(share)), (width - 8, y(share))), "rule")
        yield Words(_LEFT - 8, y(share) + 5, f"{share:.0%}".replace("%", "\N{NO-BREAK SPACE}%"), anchor="end")
    most = (width - _LEFT) // _FOR_A_MONTH
    every = next((step for step in (1, 2, 3, 6, 12, 24, 60) if months / step <= most), 240)
    for month in range(0, int(months) + 1, every):
        yield Words(x(month * MONTH), _TOP + _TALL + 22, str(month), anchor="middle")
    yield Words(_LEFT - 8, _TOP + _TALL + 22, "months", anchor="end")
    ends = [step.days for step in found.steps[1:]] + [found.longest]
    for step, until in zip(found.steps, ends, strict=True):
        yield Box(x(step.days), y(step.high), max(x(until) - x(step.days), 0.5), y(step.low) - y(step.high), "pale")
    points: list[tuple[float, float]] = [(x(0), y(1.0))]
    for step in found.steps:
        points += [(x(step.days), points[-1][1]), (x(step.days), y(step.share))]
    yield Stroke((*points, (x(found.longest), points[-1][1])), "teal", 3)
