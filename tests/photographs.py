"""Codes as a camera sees them, drawn the same each time; and three readers that had no part in each other: zxing-cpp,
zbar and OpenCV."""

from __future__ import annotations

import random
from collections.abc import Iterator

import cv2
import numpy
import zxingcpp
from PIL import Image, ImageFilter
from pyzbar import pyzbar

from cravik.share.codes import trials
from cravik.share.codes.files import raster
from cravik.share.codes.symbol import Piece

READERS = ("zxing-cpp", "zbar", "OpenCV")
_LIGHTS = (0, 45, 90, 135, 180, 225, 270, 315)


def readers_of(image: Image.Image, address: str) -> dict[str, bool]:
    """Which of the readers find that address."""
    grey = image.convert("L")
    kind = zxingcpp.BarcodeFormats(zxingcpp.BarcodeFormat.QRCode)
    symbols = [pyzbar.ZBarSymbol.QRCODE]
    return {
        "zxing-cpp": any(each.text == address for each in zxingcpp.read_barcodes(grey, formats=kind)),
        "zbar": any(each.data.decode(errors="replace") == address for each in pyzbar.decode(grey, symbols=symbols)),
        "OpenCV": _opencv(grey) == address,
    }


def plainly(piece: Piece) -> Iterator[tuple[str, Image.Image]]:
    """As it is handed out: large, small, turned, and hung on a wall."""
    for pixels in (10, 6, 4, 3):
        yield f"{pixels} pixels a module", raster(piece, round(pixels * piece.drawing.width)).convert("L")
    usual = raster(piece, round(7 * piece.drawing.width)).convert("L")
    for degrees in (10, 30, 45, 90, 200):
        yield f"turned by {degrees}°", trials._turned(usual, degrees=degrees)
    yield "on a wall", trials._hung(usual, level=110)


def photographs(piece: Piece, count: int, pixels: int = 4) -> Iterator[Image.Image]:
    """On a grainy table, aslant and turned, in light that falls off, a little blurred, with a small camera's grain."""
    paper = raster(piece, round(pixels * piece.drawing.width)).convert("L")
    edge = 22 * pixels
    table = trials._grain().resize((paper.width + 2 * edge, paper.height + 2 * edge), Image.Resampling.BICUBIC)
    scene = table.point([round(90 + (level - 128) * 0.35) for level in range(256)])
    scene.paste(paper, (edge, edge))
    for number in range(count):
        chance = random.Random(number)
        corners = tuple((chance.uniform(0, 0.1), chance.uniform(0, 0.1)) for _ in range(4))
        seen = trials._turned(trials._bent(scene, corners=corners), degrees=chance.uniform(-25, 25))
        lit = trials._shaded(seen, degrees=chance.choice(_LIGHTS), left=chance.uniform(0.45, 0.8))
        blurred = lit.filter(ImageFilter.GaussianBlur(chance.uniform(0.4, 0.9)))
        yield trials._grained(blurred, 10)


def _opencv(grey: Image.Image) -> str:
    try:
        text, _, _ = cv2.QRCodeDetector().detectAndDecode(numpy.array(grey))
    except cv2.error:  # it gives up on some pictures by an error
        return ""
    return str(text)
