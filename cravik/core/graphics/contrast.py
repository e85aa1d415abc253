"""Whether colours can be told apart, by the contrast ratio of WCAG 2.2 (success criteria 1.4.3 and 1.4.11).

>>> ratio(Colour.from_hex("#767676"), WHITE) >= TEXT
True
>>> nearest_passing(Colour.from_hex("#e2c044"), [WHITE], TEXT).hex
'#8c7504'
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache
from itertools import product
from typing import NamedTuple

from cravik.core.errors import Fault, InvalidDocument

#: The least ratio of text to its ground, and of what bounds a control.
TEXT = 4.5
BOUND = 3.0
_HEX = re.compile(r"#?([0-9a-f]{6}|[0-9a-f]{3})", re.IGNORECASE | re.ASCII)


class Colour(NamedTuple):
    """A colour of sRGB, each part from 0 to 255."""

    red: int
    green: int
    blue: int

    @classmethod
    def from_hex(cls, text: str, at: str = "colour") -> Colour:
        """Read ``#a63a28`` or ``#a32``, with or without the sign. Raises ``InvalidDocument``."""
        found = _HEX.fullmatch(text.strip())
        if found is None:
            raise InvalidDocument(Fault("colour_malformed", at, text=text.strip()[:20]))
        digits = found[1] if len(found[1]) == 6 else "".join(digit * 2 for digit in found[1])
        return cls(*(int(digits[place : place + 2], 16) for place in (0, 2, 4)))

    @property
    def hex(self) -> str:
        return f"#{self.red:02x}{self.green:02x}{self.blue:02x}"


WHITE, BLACK = Colour(255, 255, 255), Colour(0, 0, 0)


@lru_cache(maxsize=4096)
def luminance(colour: Colour) -> float:
    """Relative luminance, from 0 (black) to 1 (white)."""
    red, green, blue = (_linear(part) for part in colour)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def ratio(one: Colour, other: Colour) -> float:
    """The contrast ratio, from 1 (alike) to 21 (black on white)."""
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def passes(colour: Colour, grounds: Sequence[Colour], least: float) -> bool:
    """Whether the colour stands out from every ground by at least that ratio."""
    return all(ratio(colour, ground) >= least for ground in grounds)


def mixed(one: Colour, other: Colour, share: float) -> Colour:
    """``share`` (0 to 1) of the other colour in the one."""
    return Colour(*(round(a + (b - a) * share) for a, b in zip(one, other, strict=True)))


@lru_cache(maxsize=1024)
def _nearest(colour: Colour, grounds: tuple[Colour, ...], least: float) -> Colour | None:
    starts = [
        next((shade for shade in _towards(colour, end) if passes(shade, grounds, least)), None)
        for end in (BLACK, WHITE)
    ]
    found = [_closed_in(start, colour, grounds, least) for start in starts if start]
    return min(found, key=lambda each: distance(each, colour), default=None)


def nearest_passing(colour: Colour, grounds: Sequence[Colour], least: float) -> Colour | None:
    """The colour nearest to the eye (in Oklab) that stands out from every ground; None where none does.

    It is searched from where a mix with black or white first passes, step by step of the 24-bit colours.
    """
    if passes(colour, grounds, least):
        return colour
    return _nearest(colour, tuple(grounds), least)


def distance(one: Colour, other: Colour) -> float:
    """How different two colours look: their distance in Oklab (Ottosson, 2020)."""
    return float(sum((a - b) ** 2 for a, b in zip(_oklab(one), _oklab(other), strict=True)) ** 0.5)


def _towards(colour: Colour, end: Colour) -> Iterator[Colour]:
    return (mixed(colour, end, step / 256) for step in range(1, 257))


def _closed_in(start: Colour, wanted: Colour, grounds: Sequence[Colour], least: float) -> Colour:
    """From ``start``, which passes, to neighbours that pass and are nearer to what is wanted, until none is."""
    best, apart = start, distance(start, wanted)
    for size in (8, 4, 2, 1):
        while True:
            near = min(
                (each for each in _neighbours(best, size) if passes(each, grounds, least)),
                key=lambda each: distance(each, wanted),
                default=best,
            )
            if (closer := distance(near, wanted)) >= apart:
                break
            best, apart = near, closer
    return best


def _neighbours(colour: Colour, size: int) -> Iterator[Colour]:
    for step in product((-size, 0, size), repeat=3):
        if any(step):
            yield Colour(*(min(255, max(0, part + by)) for part, by in zip(colour, step, strict=True)))


def _linear(part: int) -> float:
    share = part / 255
    return share / 12.92 if share <= 0.04045 else float(((share + 0.055) / 1.055) ** 2.4)


@lru_cache(maxsize=4096)
def _oklab(colour: Colour) -> tuple[float, float, float]:
    red, green, blue = (_linear(part) for part in colour)
    long = (0.4122214708 * red + 0.5363325363 * green + 0.0514459929 * blue) ** (1 / 3)
    middle = (0.2119034982 * red + 0.6806995451 * green + 0.1073969566 * blue) ** (1 / 3)
    short = (0.0883024619 * red + 0.2817188376 * green + 0.6299787005 * blue) ** (1 / 3)
    return (
        0.2104542553 * long + 0.7936177850 * middle - 0.0040720468 * short,
        1.9779984951 * long - 2.4285922050 * middle + 0.4505937099 * short,
        0.0259040371 * long + 0.7827717662 * middle - 0.8086757660 * short,
    )
