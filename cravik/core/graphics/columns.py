"""Sums by month as columns, each with its figure above: what is taken by itself full, what is only asked for pale."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from cravik.core.graphics.picture import Box, Mark, Picture, Stroke, Words

_WIDE, _TALL, _FOOT = 760, 130, 28


class Column(NamedTuple):
    """``label`` stands below, ``figure`` above; ``full`` and ``pale`` are of any unit, above or at nothing."""

    label: str
    figure: str
    full: float
    pale: float
    says: str


def column_picture(columns: Sequence[Column], title: str, summary: str, key: tuple[tuple[str, str], ...]) -> Picture:
    """The columns beside one another, on one scale that begins at nothing."""
    return Picture(_WIDE, 24 + _TALL + _FOOT, title, summary, tuple(_marks(columns)), key)


def _marks(columns: Sequence[Column]) -> Iterator[Mark]:
    highest = max((each.full + each.pale for each in columns), default=0) or 1
    step = _WIDE / max(len(columns), 1)
    ground = 24 + _TALL
    for place, each in enumerate(columns):
        x, width = place * step + step * 0.18, step * 0.64
        full, pale = (round(_TALL * part / highest, 1) for part in (each.full, each.pale))
        if full:
            yield Box(round(x, 1), ground - full, round(width, 1), full, "teal")
        if pale:
            yield Box(round(x, 1), ground - full - pale, round(width, 1), pale, "pale")
        middle = round(x + width / 2, 1)
        yield Words(middle, ground - full - pale - 6, each.figure, ink="ink", anchor="middle", bold=True)
        yield Words(middle, ground + 19, each.label, anchor="middle")
        yield Box(round(place * step, 1), 0, round(step, 1), ground, says=each.says)
    yield Stroke(((0, ground), (_WIDE, ground)), "rule")
