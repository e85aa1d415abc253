"""Pictures of the sample's items, drawn by code: kites are polygons."""

from __future__ import annotations

import io
from math import cos, pi, sin

from PIL import Image, ImageDraw

# Drawn on 1200 × 900, kept at this part of it: a sample that starts quickly.
_SIZE, _KEPT = (1200, 900), (800, 600)
_SKY, _DUNE, _SPAR = "#cfe0dd", "#e6d6b4", "#22302e"
_MADDER, _KRAFT, _TEAL, _LICHEN = "#a63a28", "#f0e0c0", "#1c6b66", "#4f6b2f"

_Point = tuple[float, float]
# Panels of each kite: corners (from the middle, in parts of the half height, y down) and a colour.
_KITES: dict[str, tuple[tuple[tuple[_Point, ...], str], ...]] = {
    "delta": ((((0, -0.7), (-1.15, 0.45), (0, 0.25)), _MADDER), (((0, -0.7), (1.15, 0.45), (0, 0.25)), _KRAFT)),
    "delta-sea": ((((0, -0.7), (-1.15, 0.45), (0, 0.25)), _TEAL), (((0, -0.7), (1.15, 0.45), (0, 0.25)), _KRAFT)),
    "diamond": (
        (((0, -0.8), (-0.6, -0.2), (0, -0.2)), _TEAL),
        (((0, -0.8), (0.6, -0.2), (0, -0.2)), _KRAFT),
        (((0, 0.8), (-0.6, -0.2), (0, -0.2)), _KRAFT),
        (((0, 0.8), (0.6, -0.2), (0, -0.2)), _MADDER),
    ),
    "sled": (
        (((-0.35, -0.6), (-0.35, 0.6), (-0.8, -0.1)), _LICHEN),
        (((-0.35, -0.6), (0.35, -0.6), (0.35, 0.6), (-0.35, 0.6)), _KRAFT),
        (((0.35, -0.6), (0.35, 0.6), (0.8, -0.1)), _LICHEN),
    ),
    "box": (
        (((-0.5, -0.7), (0.1, -0.8), (0.1, -0.35), (-0.5, -0.25)), _KRAFT),
        (((0.1, -0.8), (0.5, -0.6), (0.5, -0.15), (0.1, -0.35)), _MADDER),
        (((-0.5, 0.25), (0.1, 0.15), (0.1, 0.6), (-0.5, 0.7)), _KRAFT),
        (((0.1, 0.15), (0.5, 0.35), (0.5, 0.8), (0.1, 0.6)), _MADDER),
    ),
    "parafoil": tuple(
        (
            (
                (-0.9 + 0.3 * cell, -0.35),
                (-0.6 + 0.3 * cell, -0.35),
                (-0.6 + 0.3 * cell, 0.35),
                (-0.9 + 0.3 * cell, 0.35),
            ),
            (_MADDER, _KRAFT, _TEAL)[cell % 3],
        )
        for cell in range(6)
    ),
}


def _ribbon(y: float, colour: str) -> tuple[tuple[_Point, ...], str]:
    """A tail in the wind, from the left to the right."""
    steps = [(-1.1 + 0.1 * step, y + 0.12 * sin(step * 0.8)) for step in range(23)]
    return (*steps, *((x, height + 0.1) for x, height in reversed(steps))), colour


def _bar(left: float, top: float, width: float, height: float, colour: str) -> tuple[tuple[_Point, ...], str]:
    right, foot = left + width, top + height
    return ((left, top), (right, top), (right, foot), (left, foot)), colour


# What else there is to sell: the same, without tail and line.
_THINGS: dict[str, tuple[tuple[tuple[_Point, ...], str], ...]] = {
    "ribbon": (_ribbon(-0.1, _MADDER),),
    "tails": (_ribbon(-0.45, _MADDER), _ribbon(-0.1, _KRAFT), _ribbon(0.25, _TEAL)),
    "spars": tuple(_bar(-1.0, -0.5 + 0.18 * number, 2.0, 0.05, _SPAR) for number in range(6)),
    "pattern": (_bar(-0.75, -0.85, 1.5, 1.75, "#fffdf9"), *((panel, "#fffdf9") for panel, _ in _KITES["sled"])),
    "seat": (
        _bar(-0.8, 0.0, 1.6, 0.12, _KRAFT),
        _bar(-0.65, 0.12, 0.12, 0.7, _SPAR),
        _bar(0.53, 0.12, 0.12, 0.7, _SPAR),
        (((-0.35, 0.0), (0.1, -0.6), (0.45, 0.0)), _MADDER),
    ),
    "mending": (
        *_KITES["diamond"],
        (((-0.05, -0.55), (0.3, -0.45), (0.1, -0.3), (0.35, -0.2), (-0.05, -0.25)), "#fffdf9"),
    ),
    "giant": tuple((tuple((1.4 * x, 1.4 * y) for x, y in panel), colour) for panel, colour in _KITES["delta"]),
}


def kite_picture(kind: str) -> io.BytesIO:
    """A PNG of the kite over the dunes, tail and line with it; or of another thing, without."""
    picture = Image.new("RGB", _SIZE, _SKY)
    draw = ImageDraw.Draw(picture)
    dunes = [(x, 790 + 30 * sin(x / 170) + 14 * cos(x / 61)) for x in range(0, _SIZE[0] + 20, 20)]
    draw.polygon([(0, _SIZE[1]), *dunes, (_SIZE[0] + 20, _SIZE[1])], fill=_DUNE)
    middle, scale, tilt = (600, 360), 330, -0.12
    panels = _KITES.get(kind) or _THINGS[kind]

    def placed(point: _Point) -> _Point:
        x, y = point
        return (
            middle[0] + scale * (x * cos(tilt) - y * sin(tilt)),
            middle[1] + scale * (x * sin(tilt) + y * cos(tilt)),
        )

    foot = placed((0, max(y for corners, _ in panels for _, y in corners)))
    tail = [(foot[0] + 60 * sin(step / 7 * pi), foot[1] + step * 7) for step in range(45)]
    if kind in _KITES:
        draw.line([middle, (980, 860)], fill=_SPAR, width=2)
        draw.line(tail, fill=_MADDER, width=7, joint="curve")
    for corners, colour in panels:
        draw.polygon([placed(corner) for corner in corners], fill=colour, outline=_SPAR, width=4)
    out = io.BytesIO()
    picture.resize(_KEPT, Image.Resampling.LANCZOS).save(out, "PNG", compress_level=1)
    out.seek(0)
    return out


def kite_mark() -> io.BytesIO:
    """A PNG of a small kite on nothing, for a logo."""
    picture = Image.new("RGBA", (640, 640))
    draw = ImageDraw.Draw(picture)
    for corners, colour in _KITES["diamond"]:
        panel = [(320 + 330 * x, 300 + 330 * y) for x, y in corners]
        draw.polygon(panel, fill=_KRAFT if colour == _TEAL else colour, outline=_SPAR, width=8)
    draw.line([(320 + 40 * sin(step / 5 * pi), 560 + step * 5) for step in range(16)], fill=_KRAFT, width=14)
    out = io.BytesIO()
    picture.resize((320, 320), Image.Resampling.LANCZOS).save(out, "PNG", compress_level=1)
    out.seek(0)
    return out


def stall_sign() -> io.BytesIO:
    """A PNG of a market stall with a sign on its post."""
    picture = Image.new("RGB", (800, 600), _SKY)
    draw = ImageDraw.Draw(picture)
    draw.rectangle((0, 470, 800, 600), fill=_DUNE)
    draw.rectangle((110, 330, 690, 500), fill=_KRAFT, outline=_SPAR, width=4)
    for post in (120, 664):
        draw.rectangle((post, 150, post + 16, 520), fill=_SPAR)
    for stripe in range(8):
        colour = _MADDER if stripe % 2 else "#fffdf9"
        draw.polygon(
            [(100 + stripe * 75, 90), (175 + stripe * 75, 90), (175 + stripe * 75, 180), (100 + stripe * 75, 180)],
            fill=colour,
        )
    draw.rectangle((70, 230, 190, 370), fill="#ffffff", outline=_SPAR, width=4)
    for row in range(7):
        for column in range(6):
            if (row * column + row) % 3 != 1:
                x, y = 85 + column * 15, 245 + row * 15
                draw.rectangle((x, y, x + 12, y + 12), fill=_SPAR)
    for corners, colour in _KITES["diamond"]:
        draw.polygon([(430 + 150 * x, 290 + 130 * y) for x, y in corners], fill=colour, outline=_SPAR, width=4)
    out = io.BytesIO()
    picture.save(out, "PNG", compress_level=1)
    out.seek(0)
    return out


def sled_pattern() -> str:
    """An SVG of the sled kite's sail in its panels, to be cut out."""
    panels = "".join(
        f'<path d="M{" L".join(f"{500 + 420 * x:.0f},{400 + 420 * y:.0f}" for x, y in corners)} Z"/>'
        for corners, _ in _KITES["sled"]
    )
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1000 800">'
        f'<g fill="none" stroke="#22302e" stroke-width="3" stroke-dasharray="14 8">{panels}</g>'
        '<text x="500" y="760" text-anchor="middle" font-size="28">Sled kite: cut along the dashes</text></svg>'
    )
