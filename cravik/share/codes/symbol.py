"""The symbol of an address, worked out by segno, and the whole drawing of a design on it."""

from __future__ import annotations

import base64
import io
from dataclasses import dataclass
from functools import lru_cache

import segno
from PIL import Image

from cravik.core.graphics.qr.design import CodeDesign
from cravik.core.graphics.qr.geometry import Drawing, Matrix, Trimmings, drawn
from cravik.share.codes.faces import lettering, wrapped
from cravik.ui.picture_files import file_named

#: Pixels on the longer side of a picture in the middle: sharp at 300 dots an inch on a code a hand wide.
_MAX_SIDE = 400


@dataclass(frozen=True)
class Piece:
    """What files are written from: the address, the design, and the file name of the picture in its middle."""

    address: str
    design: CodeDesign
    picture: str = ""

    @property
    def drawing(self) -> Drawing:
        return _drawing(self)

    @property
    def image(self) -> Image.Image | None:
        """The picture in the middle, on the design's ground."""
        return _image(self.picture, self.design.light.hex) if self.picture else None

    @property
    def image_address(self) -> str:
        """The same as a ``data:`` address; only where there is one."""
        assert self.image is not None
        out = io.BytesIO()
        self.image.save(out, "PNG")
        return f"data:image/png;base64,{base64.b64encode(out.getvalue()).decode()}"


@lru_cache(maxsize=128)
def matrix_of(address: str, level: str) -> Matrix:
    """The dark modules of the symbol that says the address: at least by that level, and by a higher one if it costs no
    room (ISO/IEC 18004:2015, 6.5.1)."""
    code = segno.make(address, error=level, micro=False, encoding="utf-8")
    return tuple(tuple(bool(module) for module in row) for row in code.matrix)


@lru_cache(maxsize=16)  # a drawing may take a megabyte
def _drawing(piece: Piece) -> Drawing:
    design, image = piece.design, piece.image
    trimmings = Trimmings(
        word=lettering(design.word) if design.word else None,
        caption=tuple(lettering(line) for line in wrapped(design.caption)),
        picture_proportion=image.width / image.height if image else 0.0,
    )
    return drawn(matrix_of(piece.address, "h" if design.has_middle else "m"), design, trimmings)


@lru_cache(maxsize=32)
def _image(name: str, ground: str) -> Image.Image | None:
    file = file_named(name)
    if file is None:
        return None
    with Image.open(file) as opened:
        shown = opened.convert("RGBA")
    shown.thumbnail((_MAX_SIDE, _MAX_SIDE))
    flat = Image.new("RGB", shown.size, ground)
    flat.paste(shown, mask=shown.getchannel("A"))
    return flat
