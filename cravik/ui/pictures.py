"""A picture of the core written as SVG, for a page or as a file, and as PNG."""

from __future__ import annotations

import io
import threading
from functools import lru_cache
from html import escape
from pathlib import Path

from reportlab.lib.colors import HexColor
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from cravik.core.graphics.picture import INKS, Box, Disc, Mark, Picture, Stroke, Words
from cravik.ui.pixels import drawn

#: Plain and bold.
_FACES = [Path(__file__).parent / "faces" / f"text-{weight}.ttf" for weight in (400, 700)]
_MARGIN, _ABOVE, _BELOW = 24, 56, 40
_made = threading.Lock()


def svg(picture: Picture, *, is_file: bool = False) -> str:
    """The picture as SVG. In a file it stands on its own, with a ground and a margin; on a page it is as wide as it may
    be, and what can be pointed at has its sentence in ``data-say``."""
    if not is_file:
        marks = "".join(_svg_mark(mark) for mark in picture.marks)
        box = f'viewBox="0 0 {picture.width:g} {picture.height:g}"'
        return f'<svg class="picture" {box} role="img" aria-label="{escape(picture.summary)}">{marks}</svg>'
    width, height = picture.width + 2 * _MARGIN, picture.height + _ABOVE + _BELOW
    marks = "".join(_svg_mark(mark) for mark in picture.on_its_own.marks)
    name = f"<title>{escape(picture.title)}</title><desc>{escape(picture.summary)}</desc>"
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:g}" height="{height:g}"'
        f' viewBox="{-_MARGIN} {-_ABOVE} {width:g} {height:g}" role="img" font-family="Source Sans 3, sans-serif">'
        f'{name}<rect x="{-_MARGIN}" y="{-_ABOVE}" width="{width:g}" height="{height:g}" fill="{INKS["sheet"]}"/>'
        f"{marks}</svg>\n"
    )


def png(picture: Picture, scale: float = 2) -> bytes:
    """The same as the SVG file, so many pixels a unit. Signs that the product's face lacks are left out."""
    width, height = picture.width + 2 * _MARGIN, picture.height + _ABOVE + _BELOW
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width, height), pageCompression=0, invariant=1)
    canvas.setFillColor(HexColor(INKS["sheet"]))
    canvas.rect(0, 0, width, height, stroke=0, fill=1)
    page = _Page(canvas, height - _ABOVE)
    for mark in picture.on_its_own.marks:
        page.draw(mark)
    canvas.showPage()
    canvas.save()
    pixels = io.BytesIO()
    drawn(out.getvalue(), scale).save(pixels, "PNG", optimize=True)
    return pixels.getvalue()


def _svg_mark(mark: Mark) -> str:
    match mark:
        case Box():
            fill = f'fill="{INKS[mark.ink]}"' if mark.ink else 'class="point" fill="transparent"'
            place = f'x="{mark.x:g}" y="{mark.y:g}" width="{mark.width:g}" height="{mark.height:g}"'
            return f"<rect {place} {fill}{_say(mark.says)}/>"
        case Stroke():
            points = " ".join(f"{x:g},{y:g}" for x, y in mark.points)
            dashes = ' stroke-dasharray="3 3"' if mark.dashed else ""
            stroke = f'stroke="{INKS[mark.ink]}" stroke-width="{mark.width:g}"{dashes}'
            return f'<polyline points="{points}" fill="none" {stroke}/>'
        case Disc():
            place = f'cx="{mark.x:g}" cy="{mark.y:g}" r="{mark.radius:g}"'
            return f'<circle {place} fill="{INKS[mark.ink]}"{_say(mark.says)}/>'
        case Words():
            weight = ' font-weight="700"' if mark.bold else ""
            place = f'x="{mark.x:g}" y="{mark.y:g}" font-size="{mark.size:g}" text-anchor="{mark.anchor}"'
            return f'<text {place} fill="{INKS[mark.ink]}"{weight}>{escape(mark.text)}</text>'


def _say(sentence: str) -> str:
    return f' data-say="{escape(sentence)}"' if sentence else ""


class _Page:
    """From the picture's units, downwards, to a PDF's points, upwards."""

    def __init__(self, canvas: Canvas, top: float) -> None:
        self.canvas, self.top = canvas, top

    def draw(self, mark: Mark) -> None:
        canvas = self.canvas
        match mark:
            case Box(ink=ink) if ink:
                canvas.setFillColor(HexColor(INKS[ink]))
                canvas.rect(
                    mark.x + _MARGIN, self.top - mark.y - mark.height, mark.width, mark.height, stroke=0, fill=1
                )
            case Stroke():
                canvas.setStrokeColor(HexColor(INKS[mark.ink]))
                canvas.setLineWidth(mark.width)
                canvas.setDash([3, 3] if mark.dashed else [])
                for (x, y), (to_x, to_y) in zip(mark.points, mark.points[1:], strict=False):
                    canvas.line(x + _MARGIN, self.top - y, to_x + _MARGIN, self.top - to_y)
            case Disc():
                canvas.setFillColor(HexColor(INKS[mark.ink]))
                canvas.circle(mark.x + _MARGIN, self.top - mark.y, mark.radius, stroke=0, fill=1)
            case Words():
                self._write(mark)

    def _write(self, words: Words) -> None:
        font, signs = _font(is_bold=words.bold)
        text = "".join(sign for sign in words.text if ord(sign) in signs) or "…"
        width = pdfmetrics.stringWidth(text, font, words.size)
        x = words.x + _MARGIN - width * {"start": 0, "middle": 0.5, "end": 1}[words.anchor]
        self.canvas.setFillColor(HexColor(INKS[words.ink]))
        self.canvas.setFont(font, words.size)
        self.canvas.drawString(x, self.top - words.y, text)


@lru_cache(maxsize=2)
def _font(*, is_bold: bool) -> tuple[str, frozenset[int]]:
    """The font's name among those for PDFs, and its signs; made known once in a process."""
    name = _FACES[is_bold].stem
    with _made:
        pdfmetrics.registerFont(TTFont(name, _FACES[is_bold]))
    return name, frozenset(pdfmetrics.getFont(name).face.charToGlyph)
