"""A code as a file: one geometry, written as SVG, PNG, PDF and EPS.

Vector files have their size in millimetres, a PNG in pixels; both are of the whole piece, with its margin and its
caption. A millimetre is 72/25.4 points.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from html import escape
from typing import NamedTuple

from PIL import Image
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import FILL_NON_ZERO, Canvas

from cravik.core.graphics.contrast import Colour
from cravik.core.graphics.qr.geometry import Drawing
from cravik.core.graphics.qr.paths import Path, Point
from cravik.share.codes.symbol import Piece
from cravik.ui.pixels import drawn

MIN_MM, MAX_MM, USUAL_MM = 10, 1200, 40
MIN_PX, MAX_PX, USUAL_PX = 120, 4000, 1024
_POINTS = 72 / 25.4


def svg(piece: Piece, width_mm: float = USUAL_MM) -> bytes:
    """A scalable picture, with the address as its title."""
    drawing = piece.drawing
    height_mm = width_mm * drawing.height / drawing.width
    shapes = "".join(f'<path fill="{fill.colour.hex}" d="{_svg_path(fill.path)}"/>' for fill in drawing.fills)
    if (box := drawing.picture) and piece.image:
        place = f'x="{box.x:g}" y="{box.y:g}" width="{box.width:g}" height="{box.height:g}"'
        shapes += f'<image {place} href="{piece.image_address}"/>'
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width_mm:g}mm" height="{height_mm:.4g}mm"'
        f' viewBox="0 0 {drawing.width:g} {drawing.height:g}" role="img">'
        f"<title>{escape(f'QR code for {piece.address}')}</title>"
        f'<path fill="{drawing.ground.hex}" d="M0 0H{drawing.width:g}V{drawing.height:g}H0Z"/>{shapes}</svg>\n'
    ).encode()


def png(piece: Piece, width_px: int = USUAL_PX) -> bytes:
    """A picture so many pixels wide."""
    out = io.BytesIO()
    raster(piece, width_px).save(out, "PNG", compress_level=3)
    return out.getvalue()


def raster(piece: Piece, width_px: int) -> Image.Image:
    """The same as pixels: the page of the PDF, drawn by PDFium, whose edges are smooth and whose fills are nonzero."""
    drawing = piece.drawing
    page = drawn(pdf(piece, width_px), 1 / _POINTS)
    return page.crop((0, 0, width_px, round(drawing.height * width_px / drawing.width)))


def pdf(piece: Piece, width_mm: float = USUAL_MM) -> bytes:
    """A page of exactly that width, and nothing else on it."""
    drawing, page = piece.drawing, _Page(piece.drawing, width_mm)
    out = io.BytesIO()
    canvas = _Canvas(out, pagesize=(page.width, page.height), pageCompression=1, invariant=1)
    canvas.setTitle(f"QR code for {piece.address}")
    canvas.setAuthor("Cravik")
    canvas.setCreator("Cravik")
    canvas.setFillColorRGB(*_parts(drawing.ground))
    canvas.rect(0, 0, page.width, page.height, stroke=0, fill=1)
    for fill in drawing.fills:
        path = canvas.beginPath()
        draw: dict[str, Callable[..., None]] = {
            "M": path.moveTo, "L": path.lineTo, "C": path.curveTo, "Z": path.close
        }  # fmt: skip
        for kind, points in fill.path:
            draw[kind](*(number for point in points for number in page.at(point)))
        canvas.setFillColorRGB(*_parts(fill.colour))
        canvas.drawPath(path, stroke=0, fill=1, fillMode=FILL_NON_ZERO)
    if (box := drawing.picture) and piece.image:
        x, y = page.at((box.x, box.y + box.height))
        canvas.drawImage(ImageReader(piece.image), x, y, box.width * page.scale, box.height * page.scale)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def eps(piece: Piece, width_mm: float = USUAL_MM) -> bytes:
    """Encapsulated PostScript, level 2 (Adobe's EPSF 3.0), with its exact size in ``HiResBoundingBox``."""
    drawing, page = piece.drawing, _Page(piece.drawing, width_mm)
    lines = [
        "%!PS-Adobe-3.0 EPSF-3.0",
        f"%%BoundingBox: 0 0 {-(-page.width // 1):.0f} {-(-page.height // 1):.0f}",
        f"%%HiResBoundingBox: 0 0 {page.width:.4f} {page.height:.4f}",
        f"%%Title: (QR code for {''.join(c for c in piece.address if 31 < ord(c) < 127 and c not in '()')})",
        "%%LanguageLevel: 2",
        "%%EndComments",
        "/M {moveto} bind def /L {lineto} bind def /C {curveto} bind def /Z {closepath} bind def",
        f"{_numbers(*_parts(drawing.ground))} setrgbcolor 0 0 {_numbers(page.width, page.height)} rectfill",
    ]
    for fill in drawing.fills:
        lines.append(f"{_numbers(*_parts(fill.colour))} setrgbcolor newpath")
        lines += [f"{_numbers(*(n for point in points for n in page.at(point)))} {kind}" for kind, points in fill.path]
        lines.append("fill")
    if (box := drawing.picture) and piece.image:
        lines += _eps_picture(
            piece.image, page.at((box.x, box.y + box.height)), box.width * page.scale, box.height * page.scale
        )
    return "\n".join([*lines, "showpage", "%%EOF", ""]).encode("ascii")


class _Canvas(Canvas):  # type: ignore[misc]  # the library has no types
    """A page without words names no font: the library begins each with Helvetica, which is not in the file."""

    def _make_preamble(self) -> None:
        self._preamble = "1 0 0 1 0 0 cm"


class _Page:
    """From the drawing's modules, downwards, to points, upwards."""

    def __init__(self, drawing: Drawing, width_mm: float) -> None:
        self.width = width_mm * _POINTS
        self.scale = self.width / drawing.width
        self.height = drawing.height * self.scale

    def at(self, point: Point) -> Point:
        return (point[0] * self.scale, self.height - point[1] * self.scale)


def _eps_picture(image: Image.Image, corner: Point, width: float, height: float) -> Iterator[str]:
    wide, high = image.size
    yield f"gsave {_numbers(*corner)} translate {_numbers(width, height)} scale"
    yield f"{wide} {high} 8 [{wide} 0 0 -{high} 0 {high}] currentfile /ASCIIHexDecode filter false 3 colorimage"
    digits = image.tobytes().hex()
    yield from (digits[place : place + 120] for place in range(0, len(digits), 120))
    yield "> grestore"


def _svg_path(path: Path) -> str:
    return "".join(f"{kind}{' '.join(f'{x:.4g} {y:.4g}' for x, y in points)}" for kind, points in path)


def _parts(colour: Colour) -> tuple[float, float, float]:
    return (colour.red / 255, colour.green / 255, colour.blue / 255)


def _numbers(*numbers: float) -> str:
    return " ".join(f"{number:.4f}".rstrip("0").rstrip(".") for number in numbers)


class FileKind(NamedTuple):
    """A kind of file: its media type, what its size is counted in, how it is written, and what it is for, in words."""

    media_type: str
    unit: str
    write: Callable[..., bytes]
    words: str


#: By the ending of its name, in the order in which they are offered.
KINDS = {
    "svg": FileKind("image/svg+xml", "mm", svg, "for the web"),
    "png": FileKind("image/png", "px", png, "to post and to send"),
    "pdf": FileKind("application/pdf", "mm", pdf, "to print"),
    "eps": FileKind("application/postscript", "mm", eps, "for a print shop"),
}
