"""Drawing a card: a price tag on a string beside the picture, over the seller's band."""

from __future__ import annotations

import io
from collections.abc import Iterator
from functools import lru_cache

from PIL import Image, ImageDraw, ImageOps

from cravik.checkout.card.content import Card
from cravik.ui.picture_files import file_named
from cravik.ui.typesetting import BOLD, HEADING, TEXT, fitting, is_writable, one_at_a_time, width_of, wrapped, write

#: Pixels; the proportion that social apps show a picture in.
SIZE = (1200, 630)
_QUALITY = 88
_BAND, _EDGE, _TAG_HEIGHT = 110, 60, 400
#: Shapes are drawn so many times larger, and made smaller, so that their edges are smooth.
_FINER = 3

_STEPS = 24

Point = tuple[float, ...]


@lru_cache(maxsize=64)
def drawn(card: Card) -> bytes:
    """The card as a JPEG picture. What its faces have no letters for is left out: the page's head says it too."""
    with one_at_a_time:  # faces are not to be used by two threads at once
        return _drawn(card)


def _drawn(card: Card) -> bytes:
    picture = file_named(card.picture)
    right = 690 if picture else SIZE[0] - _EDGE
    image = _ground(card, right)
    if picture:
        with Image.open(picture) as photo:
            shown = ImageOps.fit(_flat(photo, card.look.sheet), (SIZE[0] - 730 - _EDGE, _TAG_HEIGHT))
        image.paste(shown, (730, _EDGE))
    pen = _Pen(ImageDraw.Draw(image), card)
    pen.tag(_EDGE + 130, right - 40)
    pen.band(_logo(image, card))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=_QUALITY, optimize=True)
    return out.getvalue()


def _ground(card: Card, right: int) -> Image.Image:
    """The ground with the tag on its string, and the band."""
    look, (width, height) = card.look, SIZE
    image = Image.new("RGB", (width * _FINER, height * _FINER), look.ground)
    draw = ImageDraw.Draw(image)

    def finer(*points: Point) -> list[tuple[float, float]]:
        return [(x * _FINER, y * _FINER) for x, y in points]

    top, bottom, middle = _EDGE, _EDGE + _TAG_HEIGHT, _EDGE + _TAG_HEIGHT / 2
    point, shoulder = _EDGE, _EDGE + 90
    corners = finer((point, middle), (shoulder, top), (right, top), (right, bottom), (shoulder, bottom))
    draw.polygon(corners, fill=look.sheet)
    draw.line([*corners, corners[0]], fill=look.rule, width=2 * _FINER, joint="curve")
    hole = finer((shoulder - 14, middle - 14), (shoulder + 14, middle + 14))
    string = finer(*_curve((shoulder, middle), (shoulder - 70, middle - 60), (40, 0)))
    draw.line(string, fill=look.soft, width=3 * _FINER, joint="curve")
    draw.ellipse([*hole[0], *hole[1]], fill=look.ground, outline=look.soft, width=3 * _FINER)
    band = finer((0, height - _BAND), (width, height))
    draw.rectangle([*band[0], *band[1]], fill=look.band)
    return image.resize(SIZE, Image.Resampling.BOX)


def _curve(start: Point, bend: Point, end: Point) -> Iterator[Point]:
    """Points of a quadratic Bézier curve."""
    for step in range(_STEPS + 1):
        t = step / _STEPS
        yield tuple((1 - t) ** 2 * a + 2 * t * (1 - t) * b + t**2 * c for a, b, c in zip(start, bend, end, strict=True))


def _flat(photo: Image.Image, ground: str) -> Image.Image:
    """The picture without see-through parts."""
    flat = Image.new("RGB", photo.size, ground)
    flat.paste(photo.convert("RGBA"), mask=photo.convert("RGBA").getchannel("A"))
    return flat


def _logo(image: Image.Image, card: Card) -> int:
    """Put the logo on the band; returns where the name begins."""
    file = file_named(card.logo)
    if file is None:
        return _EDGE
    with Image.open(file) as logo:
        shown = ImageOps.contain(logo.convert("RGBA"), (220, _BAND - 36))
    image.paste(shown, (_EDGE, SIZE[1] - _BAND + (_BAND - shown.height) // 2), shown)
    return _EDGE + shown.width + 24


class _Pen:
    def __init__(self, draw: ImageDraw.ImageDraw, card: Card) -> None:
        self.draw, self.card = draw, card

    def tag(self, left: int, right: int) -> None:
        """Price, title and words on the tag, in the middle of its height."""
        card, wide = self.card, right - left
        largest = 1.4 if wide > SIZE[0] / 2 else 1
        rows = [
            *self.rows(card.price, BOLD, range(int(84 * largest), 43, -4), wide, 2, card.look.text),
            *self.rows(card.title, HEADING, range(int(56 * largest), 35, -4), wide, 3, card.look.text),
            *self.rows(card.words, TEXT, range(28, 27, -1), wide, 2, card.look.soft),
        ]
        while rows and sum(size for *_, size, _ in rows) * 1.25 > _TAG_HEIGHT - 30:
            rows.pop()
        y = _EDGE + (_TAG_HEIGHT - sum(size for *_, size, _ in rows) * 1.25) / 2
        for text, face, size, colour in rows:
            write(self.draw, left, y, text, face, size, colour)
            y += size * 1.25

    def band(self, left: int) -> None:
        wide = SIZE[0] - _EDGE - left
        for text, face, size, colour in self.rows(
            self.card.seller, HEADING, range(42, 25, -2), wide, 1, self.card.look.band_text
        ):
            write(self.draw, left, SIZE[1] - _BAND + (_BAND - size * 1.25) / 2, text, face, size, colour)

    def rows(
        self, text: str, face: str, sizes: range, wide: int, most: int, colour: str
    ) -> list[tuple[str, str, int, str]]:
        """The text on at most so many rows, as large as it can be; at the smallest, what is left over is cut off."""
        text = " ".join(text.split())
        if not text or not is_writable(text, face):
            return []
        for size in sizes:
            rows = list(wrapped(text, face, size, wide))
            if len(rows) <= most and all(width_of(row, face, size) <= wide for row in rows):
                break
        if len(rows) > most:
            rows = [*rows[: most - 1], f"{rows[most - 1]}…"]
        return [(fitting(row, face, size, wide), face, size, colour) for row in rows]
