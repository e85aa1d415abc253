"""Where everything of a designed code lies: the one drawing that every kind of file is written from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor

from cravik.core.graphics.contrast import Colour
from cravik.core.graphics.qr.design import CodeDesign
from cravik.core.graphics.qr.paths import Path, Segment, circle, moved, outline, polygon, rounded

#: The modules of a symbol, row by row; dark ones are true.
Matrix = Sequence[Sequence[bool]]

_EYE = 7
#: How far inside each ring of a finder pattern lies, and the radius of its corners where they are rounded. The outer
#: corners stay sharp: with a radius of half a module some readers miss one code in ten, with two modules all.
_EYE_RINGS = ((0, 0.0), (1, 1.0), (2, 0.9))
#: A dot is a little smaller than its module, so that neighbours are told apart; 0.94 of its width fills 69 % of it.
_DOT = circle(0, 0, 0.47)
_SOFT_RADIUS = 0.42
#: The least distance of modules from what is in the middle.
_CLEAR = 0.5
#: The height of a caption's letters, and of a line of it, as a share of the drawing's width.
_CAPTION_SIZE, _CAPTION_LINE = 0.075, 0.1


@dataclass(frozen=True)
class Lettering:
    """A text as an outline, one unit a size of type, its base line at 0; ``width`` is its length."""

    path: Path
    width: float


@dataclass(frozen=True)
class Fill:
    """A shape in one colour, by the nonzero rule."""

    colour: Colour
    path: Path


@dataclass(frozen=True)
class Box:
    """Where a picture lies."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Drawing:
    """The whole piece: its size with the margin and the caption, its ground, shapes, and the place of its picture.

    ``modules`` is how many the symbol has on a side, ``covered`` the share of them, from 0 to 1, that give way to what
    is in the middle.
    """

    width: float
    height: float
    ground: Colour
    fills: tuple[Fill, ...]
    picture: Box | None = None
    modules: int = 0
    covered: float = 0.0


@dataclass(frozen=True)
class Trimmings:
    """What is drawn beside the symbol: the word and the lines of the caption as outlines, and how wide a picture is for
    its height (0: there is none)."""

    word: Lettering | None = None
    caption: tuple[Lettering, ...] = ()
    picture_proportion: float = 0.0


def drawn(matrix: Matrix, design: CodeDesign, trimmings: Trimmings | None = None) -> Drawing:
    """The design carried out on a symbol."""
    trimmings = trimmings or Trimmings()
    modules, quiet = len(matrix), design.quiet
    box = _middle(modules, design, trimmings)
    kept, cleared = _cleared(matrix, box)
    body = [[dark and not _in_eye(x, y, modules) for x, dark in enumerate(row)] for y, row in enumerate(kept)]
    fills = [
        Fill(design.dark, _modules(body, design.shape, quiet)),
        Fill(design.eyes, moved(_eyes(modules, design.eye_shape), quiet, quiet)),
    ]
    width = modules + 2 * quiet
    if box and design.middle == "word" and trimmings.word:
        fills.append(Fill(design.dark, _word(trimmings.word, box, quiet)))
    fills += [Fill(design.dark, line) for line in _caption(trimmings.caption, width)]
    picture = None
    if box and design.middle != "word":
        picture = Box(box.x + quiet, box.y + quiet, box.width, box.height)
    height = width + _caption_height(trimmings.caption, width)
    return Drawing(width, height, design.light, tuple(fills), picture, modules, cleared / modules**2)


def _modules(filled: Matrix, shape: str, at: int) -> Path:
    if shape == "dots":
        middles = [(x + at + 0.5, y + at + 0.5) for y, row in enumerate(filled) for x, dark in enumerate(row) if dark]
        return tuple(segment for middle in middles for segment in moved(_DOT, *middle))
    lines = outline(filled, at)
    return tuple(
        segment for line in lines for segment in (polygon(line) if shape == "square" else rounded(line, _SOFT_RADIUS))
    )


def _eyes(modules: int, shape: str) -> Path:
    """The finder patterns (clause 6.3.3): a ring of one module around a square of three."""
    segments: list[Segment] = []
    for x, y in ((0, 0), (modules - _EYE, 0), (0, modules - _EYE)):
        for inset, radius in _EYE_RINGS:
            side = _EYE - 2 * inset
            corners: list[tuple[float, float]] = [(0, 0), (side, 0), (side, side), (0, side)]
            if inset == 1:  # the hole runs the other way
                corners.reverse()
            ring = rounded(corners, radius) if radius and shape == "soft" else polygon(corners)
            segments += moved(ring, x + inset, y + inset)
    return tuple(segments)


def _in_eye(x: int, y: int, modules: int) -> bool:
    far = modules - _EYE
    return (x < _EYE and (y < _EYE or y >= far)) or (x >= far and y < _EYE)


def _middle(modules: int, design: CodeDesign, trimmings: Trimmings) -> Box | None:
    """Where the word or the picture goes, as wide as the design says and no higher than that."""
    if not design.has_middle:
        return None
    width = modules * design.middle_width / 100
    if design.middle == "word":
        if trimmings.word is None:
            return None
        height = min(width * 0.6, width / max(trimmings.word.width, 0.1))
    else:
        if not trimmings.picture_proportion:
            return None
        height = width / trimmings.picture_proportion
        if height > width:
            width, height = width * trimmings.picture_proportion, width
    return Box((modules - width) / 2, (modules - height) / 2, width, height)


def _cleared(matrix: Matrix, box: Box | None) -> tuple[list[list[bool]], int]:
    """The symbol without the modules that the middle needs, and how many those are, dark or light."""
    kept = [list(row) for row in matrix]
    if box is None:
        return kept, 0
    columns = range(floor(box.x - _CLEAR), ceil(box.x + box.width + _CLEAR))
    rows = range(floor(box.y - _CLEAR), ceil(box.y + box.height + _CLEAR))
    for y in rows:
        for x in columns:
            kept[y][x] = False
    return kept, len(rows) * len(columns)


def _word(word: Lettering, box: Box, quiet: int) -> Path:
    """The word across its box: capitals are about 0.7 of the size of type high, which is centred."""
    size = min(box.width / max(word.width, 0.1), box.height)
    x = box.x + (box.width - word.width * size) / 2 + quiet
    return moved(word.path, x, box.y + box.height / 2 + 0.35 * size + quiet, size)


def _caption(lines: Sequence[Lettering], width: float) -> list[Path]:
    """Under the margin, centred, each line as large as usual or as fits."""
    paths = []
    for number, line in enumerate(lines):
        size = min(_CAPTION_SIZE * width, 0.92 * width / max(line.width, 0.1))
        base = width + (number + 0.72) * _CAPTION_LINE * width
        paths.append(moved(line.path, (width - line.width * size) / 2, base, size))
    return paths


def _caption_height(lines: Sequence[Lettering], width: float) -> float:
    return (len(lines) + 0.4) * _CAPTION_LINE * width if lines else 0.0
