"""Setting lines of text into a picture of pixels, in the product's own faces.

Faces are not to be used by two threads at once: whoever draws holds ``one_at_a_time``.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from functools import cache
from pathlib import Path

from PIL import ImageDraw, ImageFont

one_at_a_time = threading.Lock()
_FONTS = Path(__file__).parent / "static" / "ui" / "fonts"
HEADING, TEXT, BOLD = "heading", "text", "bold"
#: Each face by its files and their weights (0: the file has one), and the signs that are taken from a file alone.
_FILES: dict[str, tuple[tuple[str, int, str], ...]] = {
    HEADING: (("text-latin", 700, "0123456789€$£¥−"), ("heading-latin", 0, ""), ("heading-latin-ext", 0, "")),
    TEXT: (("text-latin", 400, ""), ("text-latin-ext", 400, "")),
    BOLD: (("text-latin", 700, ""), ("text-latin-ext", 700, "")),
}


def write(draw: ImageDraw.ImageDraw, x: float, y: float, text: str, face: str, size: int, colour: str) -> None:
    """Write a line whose type begins at ``y`` and is ``size`` pixels high."""
    for run, font in _runs(text, face, size):
        draw.text((x, y + size), run, fill=colour, font=font, anchor="ls")
        x += font.getlength(run)


def wrapped(text: str, face: str, size: int, wide: int) -> Iterator[str]:
    """The text in lines of at most ``wide`` pixels; a longer word has one of its own."""
    row = ""
    for word in text.split(" "):
        longer = f"{row} {word}".strip()
        if row and width_of(longer, face, size) > wide:
            yield row
            row = word
        else:
            row = longer
    yield row


def fitting(row: str, face: str, size: int, wide: int) -> str:
    """The line, cut off where it is wider."""
    while len(row) > 1 and width_of(row, face, size) > wide:
        row = f"{row.rstrip('…')[:-1]}…"
    return row


def width_of(text: str, face: str, size: int) -> float:
    """In pixels."""
    return sum(font.getlength(run) for run, font in _runs(text, face, size))


def _runs(text: str, face: str, size: int) -> Iterator[tuple[str, ImageFont.FreeTypeFont]]:
    """The text in pieces, each with the file of the face that has its letters."""
    run, used = "", 0
    for sign in text:
        file = _file_with(sign, face)
        if run and file != used:
            yield run, _font(face, used, size)
            run = ""
        run, used = run + sign, file or 0
    if run:
        yield run, _font(face, used, size)


def is_writable(text: str, face: str) -> bool:
    """Whether the face has every sign of the text."""
    return all(_file_with(sign, face) is not None for sign in text)


@cache
def _file_with(sign: str, face: str) -> int | None:
    """Which file of the face has the sign, or None where none has."""
    for file, (_, _, only) in enumerate(_FILES[face]):
        if (sign in only or not only) and (sign == " " or _has(_font(face, file, 20), sign)):
            return file
    return None


def _has(font: ImageFont.FreeTypeFont, sign: str) -> bool:
    missing, mask = font.getmask("\U0010ffff"), font.getmask(sign)
    return (mask.size, bytes(mask)) != (missing.size, bytes(missing))


@cache
def _font(face: str, file: int, size: int) -> ImageFont.FreeTypeFont:
    name, weight, _ = _FILES[face][file]
    font = ImageFont.truetype(_FONTS / f"{name}.woff2", size)
    if weight:
        font.set_variation_by_axes([weight])
    return font
