"""Words as outlines, taken from the product's own face, so that a file shows them on any machine."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path as File
from typing import Any

from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont

import cravik.ui
from cravik.core.graphics.qr.geometry import Lettering
from cravik.core.graphics.qr.paths import CLOSE, Point, Segment, moved

_FONTS = File(cravik.ui.__file__).parent / "static" / "ui" / "fonts"
_FILES = ("text-latin.woff2", "text-latin-ext.woff2")
_WEIGHT = 600
#: Sizes of type that a line of a caption takes before it is parted in two.
_LINE = 12.0
# Glyphs are read from the file as they are asked for, by one thread at a time.
_one_at_a_time = threading.Lock()


def unwritable(text: str) -> str:
    """The signs of the text that the face has no letters for, each once."""
    return "".join(dict.fromkeys(sign for sign in text if _place_of(sign) is None))


@lru_cache(maxsize=256)
def lettering(text: str) -> Lettering:
    """The text as one outline; signs that the face lacks are left out."""
    with _one_at_a_time:
        segments: list[Segment] = []
        x = 0.0
        for sign in text:
            if (place := _place_of(sign)) is not None:
                path, advance = _glyph(place, sign)
                segments += moved(path, x, 0)
                x += advance
    return Lettering(tuple(segments), x)


def wrapped(caption: str) -> Iterator[str]:
    """The caption in one line, or in two of about one length where it is long."""
    if not caption:
        return
    words = caption.split(" ")
    if lettering(caption).width <= _LINE or len(words) < 2:
        yield caption
        return
    cuts = [(" ".join(words[:place]), " ".join(words[place:])) for place in range(1, len(words))]
    yield from min(cuts, key=lambda lines: max(lettering(line).width for line in lines))


@lru_cache(maxsize=1)
def _faces() -> list[tuple[Any, dict[int, str], int]]:
    """Of each file: its glyphs at the weight, its signs, and its units a size of type."""
    fonts = [TTFont(_FONTS / name) for name in _FILES]
    return [
        (font.getGlyphSet(location={"wght": _WEIGHT}), font.getBestCmap(), font["head"].unitsPerEm) for font in fonts
    ]


def _place_of(sign: str) -> int | None:
    return next((place for place, (_, signs, _) in enumerate(_faces()) if ord(sign) in signs), None)


@lru_cache(maxsize=512)
def _glyph(place: int, sign: str) -> tuple[tuple[Segment, ...], float]:
    glyphs, signs, units = _faces()[place]
    pen = DecomposingRecordingPen(glyphs)
    glyph = glyphs[signs[ord(sign)]]
    glyph.draw(pen)

    def at(point: tuple[float, float]) -> Point:
        return (point[0] / units, -point[1] / units)

    segments: list[Segment] = []
    last: Point = (0.0, 0.0)
    for operator, given in pen.value:
        points = [at(point) for point in given if point is not None]
        if operator == "closePath":
            segments.append(CLOSE)
        elif operator == "qCurveTo":
            for control, end in _quadratics(points):
                segments.append(Segment("C", (_raised(last, control), _raised(end, control), end)))
                last = end
        elif operator in ("moveTo", "lineTo"):
            segments.append(Segment("M" if operator == "moveTo" else "L", (points[0],)))
            last = points[0]
    return tuple(segments), glyph.width / units


def _quadratics(points: list[Point]) -> Iterator[tuple[Point, Point]]:
    """TrueType's curve: between two controls lies an end that is not named."""
    *controls, end = points
    for place, control in enumerate(controls):
        if place + 1 < len(controls):
            following = controls[place + 1]
            yield control, ((control[0] + following[0]) / 2, (control[1] + following[1]) / 2)
        else:
            yield control, end


def _raised(end: Point, control: Point) -> Point:
    """A cubic curve's control beside that end of a quadratic one."""
    return (end[0] + (control[0] - end[0]) * 2 / 3, end[1] + (control[1] - end[1]) * 2 / 3)
