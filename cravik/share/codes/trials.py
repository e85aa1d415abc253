"""The proof that a design scans: it is drawn, spoiled in a fixed set of ways as paper, light and hands do it, and read
by a decoder that had no part in making it (zxing-cpp).

Every trial is the same each time: nothing is drawn by chance. Lengths are in modules, of which each has seven pixels to
begin with.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from functools import lru_cache, partial
from math import cos, pi, sin

import zxingcpp
from PIL import Image, ImageChops, ImageDraw, ImageFilter

from cravik.core.graphics.qr.legibility import Proof, Trial
from cravik.share.codes.files import raster
from cravik.share.codes.symbol import Piece

#: Pixels a module to begin with: no multiple of the blocks of eight in which the decoder finds its threshold.
_PIXELS = 7
_PAPER = 255
Spoil = Callable[[Image.Image], Image.Image]

_SMALLER = (4.0, 3.0, 2.5, 2.0, 1.8, 1.6, 1.4)
_BLURS = (0.15, 0.2, 0.25, 0.3, 0.35, 0.4)
_TURNS = (7, 15, 30, 45, 60, 90, 125, 180, 233, 300)
#: How far each corner (top left, top right, bottom right, bottom left) is pushed inwards, as shares of the side.
_BENDS = (
    ((0.1, 0.0), (0.1, 0.0), (0, 0), (0, 0)),
    ((0.2, 0.05), (0.2, 0.05), (0, 0), (0, 0)),
    ((0, 0), (0, 0), (0.15, 0.05), (0.15, 0.05)),
    ((0.05, 0.15), (0, 0), (0, 0), (0.05, 0.15)),
    ((0, 0), (0.05, 0.2), (0.05, 0.2), (0, 0)),
    ((0.15, 0.1), (0, 0), (0, 0), (0, 0)),
    ((0, 0), (0.18, 0.12), (0.02, 0.0), (0, 0.05)),
    ((0.05, 0.05), (0.02, 0.14), (0.16, 0.03), (0, 0)),
)
#: How much of the contrast is left, and how strong the grain is, in levels of 255.
_PALE = ((0.8, 8), (0.65, 10), (0.5, 12), (0.4, 12), (0.32, 12), (0.26, 12))
#: Which side is dark, and how much light is left there.
_LIGHTS = ((0, 0.5), (90, 0.5), (45, 0.4), (135, 0.35), (180, 0.3), (270, 0.3), (225, 0.25), (315, 0.25))
#: Stains: the middle and the radius, as shares of the symbol's side.
_STAINS = (
    ((0.5, 0.5, 0.06),),
    ((0.3, 0.62, 0.07),),
    ((0.62, 0.35, 0.08),),
    ((0.72, 0.72, 0.08),),
    ((0.5, 0.8, 0.05), (0.8, 0.5, 0.05)),
    ((0.45, 0.3, 0.05), (0.6, 0.75, 0.06)),
    ((0.34, 0.5, 0.04), (0.66, 0.6, 0.04), (0.5, 0.72, 0.04)),
)
#: Creases: from one edge to another, as shares of the side, and how wide, in modules.
_CREASES = (((0, 0.42, 1, 0.6), 0.7), ((0.4, 0, 0.62, 1), 0.7), ((0.32, 1, 1, 0.35), 1.0))

#: How bright the wall is, from 0 to 255.
_WALLS = (0, 60, 120)


@lru_cache(maxsize=128)
def proof_of(piece: Piece) -> Proof:
    """Every trial of the piece, in their order."""
    start = raster(piece, round(_PIXELS * piece.drawing.width)).convert("L")
    margin = piece.design.quiet * _PIXELS
    return Proof(
        tuple(
            Trial(kind, words, _is_read(spoil(start), piece.address), pixels)
            for kind, words, spoil, pixels in _trials(margin, piece.drawing.modules * _PIXELS)
        )
    )


def _is_read(image: Image.Image, address: str) -> bool:
    found = zxingcpp.read_barcodes(image, formats=zxingcpp.BarcodeFormats(zxingcpp.BarcodeFormat.QRCode))
    return any(each.text == address for each in found)


def _trials(margin: int, side: int) -> Iterator[tuple[str, str, Spoil, float]]:
    """Of each: its kind, what is done in words, how, and the pixels a module where it is made smaller on purpose."""
    for pixels in _SMALLER:
        yield "shrunk", f"{pixels:g} pixels a module", partial(_smaller, pixels=pixels), pixels
    for radius in _BLURS:
        yield "blurred", f"by {radius:g} of a module", partial(_blurred, radius=radius), 0
    for degrees in _TURNS:
        yield "turned", f"by {degrees}°", partial(_turned, degrees=degrees), 0
    for number, corners in enumerate(_BENDS, start=1):
        yield "bent", f"at an angle, way {number}", partial(_bent, corners=corners), 0
    for left, grain in _PALE:
        yield "printed pale", f"{left:.0%} of the contrast left", partial(_pale, left=left, grain=grain), 0
    for degrees, left in _LIGHTS:
        yield "lit unevenly", f"{left:.0%} of the light at {degrees}°", partial(_shaded, degrees=degrees, left=left), 0
    for number, stains in enumerate(_STAINS, start=1):
        yield "partly covered", f"stain {number}", partial(_stained, stains=stains, margin=margin, side=side), 0
    for number, (line, width) in enumerate(_CREASES, start=1):
        crease = partial(_creased, line=line, width=width, margin=margin, side=side)
        yield "partly covered", f"crease {number}", crease, 0
    for level in _WALLS:
        yield "on a dark wall", f"of brightness {level}", partial(_hung, level=level), 0
    for number, spoils in enumerate(_mixed(margin, side), start=1):
        yield "all at once", f"mixture {number}", partial(_one_after_another, spoils=spoils), 0


def _mixed(margin: int, side: int) -> list[tuple[Spoil, ...]]:
    """What meets on a market: small, aslant, in the shade, worn."""
    stain = partial(_stained, stains=_STAINS[1], margin=margin, side=side)
    far = partial(_smaller, pixels=3.0)
    soft = partial(_blurred, radius=0.25)
    return [
        (partial(_turned, degrees=12), soft, far),
        (partial(_bent, corners=_BENDS[1]), partial(_shaded, degrees=45, left=0.5)),
        (partial(_bent, corners=_BENDS[4]), soft, far),
        (stain, partial(_pale, left=0.6, grain=8)),
        (stain, partial(_turned, degrees=33), soft),
        (partial(_shaded, degrees=200, left=0.45), partial(_pale, left=0.7, grain=8), soft),
        (partial(_turned, degrees=75), partial(_bent, corners=_BENDS[0]), partial(_shaded, degrees=120, left=0.5)),
        (stain, partial(_bent, corners=_BENDS[6]), far),
    ]


def _one_after_another(image: Image.Image, *, spoils: tuple[Spoil, ...]) -> Image.Image:
    for spoil in spoils:
        image = spoil(image)
    return image


def _smaller(image: Image.Image, *, pixels: float) -> Image.Image:
    share = pixels / _PIXELS
    size = (max(1, round(image.width * share)), max(1, round(image.height * share)))
    return image.resize(size, Image.Resampling.BOX)


def _blurred(image: Image.Image, *, radius: float) -> Image.Image:
    return image.filter(ImageFilter.GaussianBlur(radius * _PIXELS))


def _turned(image: Image.Image, *, degrees: float) -> Image.Image:
    return image.rotate(degrees, Image.Resampling.BILINEAR, expand=True, fillcolor=_PAPER)


def _bent(image: Image.Image, *, corners: tuple[tuple[float, float], ...]) -> Image.Image:
    """The sheet at an angle: its corners pushed inwards, by the projection of one four-sided figure to another."""
    width, height = image.size
    square = ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height))
    inward = ((1, 1), (-1, 1), (-1, -1), (1, -1))
    seen = [
        (x + sx * dx * width, y + sy * dy * height)
        for (x, y), (sx, sy), (dx, dy) in zip(square, inward, corners, strict=True)
    ]
    return image.transform(
        image.size, Image.Transform.PERSPECTIVE, _projection(seen, square), Image.Resampling.BILINEAR, fillcolor=_PAPER
    )


def _pale(image: Image.Image, *, left: float, grain: int) -> Image.Image:
    return _grained(image.point([round(_PAPER - (_PAPER - level) * left) for level in range(256)]), grain)


def _shaded(image: Image.Image, *, degrees: float, left: float) -> Image.Image:
    """Light that falls off evenly from one side to the other, with a little grain."""
    across = Image.linear_gradient("L").point([round(255 * (left + (1 - left) * level / 255)) for level in range(256)])
    half = 256 / (abs(cos(degrees * pi / 180)) + abs(sin(degrees * pi / 180))) / 2
    turned = across.rotate(degrees, Image.Resampling.BILINEAR)
    middle = turned.crop((round(128 - half), round(128 - half), round(128 + half), round(128 + half)))
    return _grained(ImageChops.multiply(image, middle.resize(image.size, Image.Resampling.BILINEAR)), 6)


def _stained(
    image: Image.Image, *, stains: tuple[tuple[float, float, float], ...], margin: int, side: int
) -> Image.Image:
    spoiled = image.copy()
    draw = ImageDraw.Draw(spoiled)
    for x, y, radius in stains:
        at, reach = (margin + x * side, margin + y * side), radius * side
        draw.ellipse((at[0] - reach, at[1] - reach, at[0] + reach, at[1] + reach), fill=110)
    return spoiled


def _creased(
    image: Image.Image, *, line: tuple[float, float, float, float], width: float, margin: int, side: int
) -> Image.Image:
    spoiled = image.copy()
    ends = [margin + place * side for place in line]
    ImageDraw.Draw(spoiled).line(ends, fill=_PAPER, width=round(width * _PIXELS))
    return spoiled


def _hung(image: Image.Image, *, level: int) -> Image.Image:
    """On a wall that begins where the paper ends, a little blurred as everything that a phone sees."""
    edge = 6 * _PIXELS
    wall = Image.new("L", (image.width + 2 * edge, image.height + 2 * edge), level)
    wall.paste(image, (edge, edge))
    return _blurred(wall, radius=0.2)


def _grained(image: Image.Image, strength: int) -> Image.Image:
    """With the grain of paper and of a small camera: the same one each time."""
    grain = _grain().resize(image.size, Image.Resampling.NEAREST)
    light = grain.point([max(0, (level - 128) * strength // 128) for level in range(256)])
    dark = grain.point([max(0, (128 - level) * strength // 128) for level in range(256)])
    return ImageChops.subtract(ImageChops.add(image, light), dark)


@lru_cache(maxsize=1)
def _grain() -> Image.Image:
    side = 256
    return Image.frombytes("L", (side, side), random.Random(18004).randbytes(side * side))


def _projection(seen: list[tuple[float, float]], square: tuple[tuple[float, float], ...]) -> list[float]:
    """The eight numbers of the projection that leads from a point that is seen to where it comes from."""
    rows: list[list[float]] = []
    for (x, y), (u, v) in zip(seen, square, strict=True):
        rows.append([x, y, 1, 0, 0, 0, -u * x, -u * y, u])
        rows.append([0, 0, 0, x, y, 1, -v * x, -v * y, v])
    return _solved(rows)


def _solved(rows: list[list[float]]) -> list[float]:
    """The solution of a system of linear equations, whose right side is last in each row (Gauss and Jordan)."""
    size = len(rows)
    for column in range(size):
        pivot = max(range(column, size), key=lambda row: abs(rows[row][column]))
        rows[column], rows[pivot] = rows[pivot], rows[column]
        rows[column] = [value / rows[column][column] for value in rows[column]]
        for row in range(size):
            if row != column:
                factor = rows[row][column]
                rows[row] = [a - factor * b for a, b in zip(rows[row], rows[column], strict=True)]
    return [row[-1] for row in rows]
