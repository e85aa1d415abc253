"""Outlines: closed shapes of straight lines and cubic Bézier curves, whatever file they are written to.

The outline of an area of squares runs round each piece of it, clockwise (downwards is positive), and round each hole
the other way, so that it fills alike by the nonzero and by the even-odd rule. Squares that only touch at a corner are
kept apart.

>>> outline([[True, True], [False, True]])
[[(0, 0), (2, 0), (2, 2), (1, 2), (1, 1), (0, 1)]]
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal, NamedTuple

Point = tuple[float, float]
#: How far a quarter of a circle's control points lie from its ends, as a share of the radius.
_QUARTER = 0.5522847498

_RIGHT, _DOWN, _LEFT, _UP = (1, 0), (0, 1), (-1, 0), (0, -1)


class Segment(NamedTuple):
    """A piece of an outline: ``M`` begins one at the point, ``L`` draws a line there, ``C`` a curve by two controls and
    its end, ``Z`` closes it."""

    kind: Literal["M", "L", "C", "Z"]
    points: tuple[Point, ...] = ()


Path = tuple[Segment, ...]
CLOSE = Segment("Z")


def polygon(corners: Sequence[Point]) -> Path:
    """Straight lines through the corners."""
    return (Segment("M", (corners[0],)), *(Segment("L", (corner,)) for corner in corners[1:]), CLOSE)


def rounded(corners: Sequence[Point], radius: float) -> Path:
    """The same with every right-angled corner rounded, inner ones too. No side is shorter than twice the radius."""
    near, segments = radius * (1 - _QUARTER), list[Segment]()
    ways = [_towards(corner, corners[place - len(corners) + 1]) for place, corner in enumerate(corners)]
    for place, (x, y) in enumerate(corners):
        (ix, iy), (ox, oy) = ways[place - 1], ways[place]
        start, end = (x - ix * radius, y - iy * radius), (x + ox * radius, y + oy * radius)
        curve = ((x - ix * near, y - iy * near), (x + ox * near, y + oy * near), end)
        segments += [Segment("L" if segments else "M", (start,)), Segment("C", curve)]
    return (*segments, CLOSE)


def circle(x: float, y: float, radius: float) -> Path:
    """A circle about that point."""
    return rounded(
        [(x - radius, y - radius), (x + radius, y - radius), (x + radius, y + radius), (x - radius, y + radius)], radius
    )


def moved(path: Path, x: float, y: float, size: float = 1.0) -> Path:
    """The path made so many times larger, and moved."""
    return tuple(Segment(kind, tuple((px * size + x, py * size + y) for px, py in points)) for kind, points in path)


def outline(filled: Sequence[Sequence[bool]], at: float = 0) -> list[list[Point]]:
    """The corners of each closed line round an area of squares, given row by row, that begins at ``at`` both ways."""
    after: dict[Point, list[Point]] = {}
    for start, end in _edges(filled):
        after.setdefault(start, []).append(end)
    lines = []
    while after:
        start = min(after)
        corners = _corners(_followed(start, after))
        lines.append([(x + at, y + at) for x, y in corners] if at else corners)
    return lines


def _edges(filled: Sequence[Sequence[bool]]) -> Iterator[tuple[Point, Point]]:
    """The sides of squares that lie at the edge of the area, each with the area to its right."""

    def is_filled(x: int, y: int) -> bool:
        return 0 <= y < len(filled) and 0 <= x < len(filled[y]) and bool(filled[y][x])

    for y, row in enumerate(filled):
        for x, there in enumerate(row):
            if there:
                square = ((x, y), (x + 1, y), (x + 1, y + 1), (x, y + 1))
                for place, (dx, dy) in enumerate((_UP, _RIGHT, _DOWN, _LEFT)):
                    if not is_filled(x + dx, y + dy):
                        yield square[place], square[(place + 1) % 4]


def _followed(start: Point, after: dict[Point, list[Point]]) -> list[Point]:
    """One closed line from ``start``, taken out of ``after``. Where two meet, it turns right: squares that touch at a
    corner alone are two pieces."""
    line, at, heading = [start], start, (0.0, 0.0)
    while True:
        ways = after[at]
        to = ways[0] if len(ways) == 1 else max(ways, key=lambda end: _turn(heading, _towards(at, end)))
        ways.remove(to)
        if not ways:
            del after[at]
        if to == start:
            return line
        heading = _towards(at, to)
        line.append(to)
        at = to


def _turn(heading: Point, way: Point) -> float:
    """Above zero for a turn to the right, which is clockwise where downwards is positive."""
    return heading[0] * way[1] - heading[1] * way[0]


def _corners(line: list[Point]) -> list[Point]:
    return [
        point
        for place, point in enumerate(line)
        if _towards(line[place - 1], point) != _towards(point, line[(place + 1) % len(line)])
    ]


def _towards(start: Point, end: Point) -> Point:
    """The direction from one point to another on the same row or column."""
    return (_sign(end[0] - start[0]), _sign(end[1] - start[1]))


def _sign(number: float) -> int:
    return (number > 0) - (number < 0)
