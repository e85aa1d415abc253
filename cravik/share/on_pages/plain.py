"""The plain button: one element of HTML with its style in it, for mail and wherever no script runs.

It is text, a picture that is drawn here, or a picture of the seller's own; each has the words as text. Nothing changes
it where it was pasted, so its seller is told when it goes out of date (``share.pasted``). The picture drawn here is
made anew each time it is fetched: it always says the price of now.
"""

from __future__ import annotations

import base64
import hashlib
import io
from dataclasses import dataclass
from functools import lru_cache

from django.urls import reverse
from django.utils.html import format_html
from PIL import Image, ImageDraw

from cravik.core.graphics.button import ButtonFace
from cravik.setup.looks import KeptPicture
from cravik.share.on_pages.pasting import Pasting
from cravik.ui.typesetting import BOLD, fitting, is_writable, one_at_a_time, width_of, wrapped, write

#: By name: what each is called.
KINDS = {"text": "Text", "drawn": "A picture of it", "own": "A picture of your own"}
#: Pixels a CSS pixel, so that it is sharp on fine screens; the width at which words are wrapped; the root's type.
_FINE, _WIDEST, _REM = 2, 520, 16
_LINE = 1.25
#: Edges are drawn so many times finer, and made smaller.
_FINER = 3


@dataclass(frozen=True)
class PlainButton:
    """``html`` is what is pasted, ``label`` its words; ``style_hashes`` let a page under a strict policy show it."""

    kind: str
    html: str
    label: str
    style_hashes: tuple[str, ...]


def plain_button(pasting: Pasting, kind: str) -> PlainButton:
    """The spot's button as it is designed. A picture that is not there, or cannot be drawn, gives way to text."""
    label, face, own = pasting.label, pasting.face, pasting.held.picture
    if kind == "drawn" and is_drawable(label):
        picture = _drawn_element(face, label, f"{pasting.base}{reverse('on_page:picture', args=[pasting.code])}")
    elif kind == "own" and own:
        file = KeptPicture(own["name"], tuple(own["widths"]))
        picture = format_html('<img src="{}{}" alt="{}" style="{}">', pasting.base, file.address, label, _PICTURE)
    else:
        html = format_html('<a href="{}" style="{}">{}</a>', pasting.address, face.style, label)
        return PlainButton("text", html, label, (_hash(face.style),))
    html = format_html('<a href="{}" style="{}">{}</a>', pasting.address, _AROUND, picture)
    return PlainButton(kind, html, label, (_hash(_AROUND), _hash(_PICTURE)))


def is_drawable(label: str) -> bool:
    """Whether the product's face has all of its letters."""
    with one_at_a_time:
        return is_writable(label, BOLD)


_AROUND = "display:inline-block;max-width:100%"
_PICTURE = "display:block;max-width:100%;height:auto;border:0"


def _drawn_element(face: ButtonFace, label: str, address: str) -> str:
    wide, high = size_of(face, label)
    return format_html(
        '<picture><source srcset="{0}?on=dark 2x" media="(prefers-color-scheme: dark)">'
        '<img src="{0}" srcset="{0} 2x" width="{1}" height="{2}" alt="{3}" style="{4}"></picture>',
        address,
        wide,
        high,
        label,
        _PICTURE,
    )


def size_of(face: ButtonFace, label: str) -> tuple[int, int]:
    """Width and height of the drawn button, in CSS pixels."""
    with one_at_a_time:
        *_, wide, high = _laid_out(face, label)
    return round(wide / _FINE), round(high / _FINE)


@lru_cache(maxsize=128)
def drawn(face: ButtonFace, label: str) -> bytes:
    """The button as a PNG, clear around its corners. Signs that the product's face lacks are left out."""
    with one_at_a_time:
        rows, size, wide, high = _laid_out(face, label)
        image = Image.new("RGBA", (wide * _FINER, high * _FINER))
        ImageDraw.Draw(image).rounded_rectangle(
            (0, 0, wide * _FINER - 1, high * _FINER - 1), _radius(face.radius, high) * _FINER, fill=face.ground.hex
        )
        image = image.resize((wide, high), Image.Resampling.LANCZOS)
        draw = ImageDraw.Draw(image)
        y = (high - len(rows) * size * _LINE) / 2 - size * 0.06
        for row in rows:
            write(draw, (wide - width_of(row, BOLD, size)) / 2, y, row, BOLD, size, face.ink.hex)
            y += size * _LINE
    out = io.BytesIO()
    image.save(out, "PNG", optimize=True)
    return out.getvalue()


def _laid_out(face: ButtonFace, label: str) -> tuple[list[str], int, int, int]:
    """The rows, the size of their type, and width and height of the whole, in pixels."""
    rem, above, beside = face.measures
    size = round(rem * _REM * _FINE)
    most = _WIDEST * _FINE - round(2 * beside * size)
    rows = [fitting(row, BOLD, size, most) for row in wrapped(" ".join(label.split()), BOLD, size, most)]
    wide = max(width_of(row, BOLD, size) for row in rows) + 2 * beside * size
    high = len(rows) * size * _LINE + 2 * above * size
    return rows, size, _even(wide), _even(high)


def _radius(css: str, high: int) -> int:
    return min(int(css.removesuffix("px")) * _FINE, high // 2)


def _even(pixels: float) -> int:
    return -(-round(pixels) // _FINE) * _FINE


def _hash(style: str) -> str:
    return f"'sha256-{base64.b64encode(hashlib.sha256(style.encode()).digest()).decode()}'"
