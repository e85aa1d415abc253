"""A picture as plain marks, so that one geometry is written as SVG, on a page or as a file, and as pixels.

Lengths are in the picture's own units, downwards from the upper left corner.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

#: The colours that marks may have, by name: the product's own, as the style sheet has them.
INKS = {
    "ink": "#22302e",
    "soft": "#55615c",
    "sheet": "#fffdf9",
    "rule": "#ddd3c2",
    "pale": "#cdbfa6",
    "madder": "#a63a28",
    "lichen": "#4f6b2f",
    "ochre": "#8a5a00",
    "teal": "#1c6b66",
}


@dataclass(frozen=True)
class Box:
    """A filled rectangle. Without an ``ink`` it is not seen, but can be pointed at: it then ``says`` a sentence."""

    x: float
    y: float
    width: float
    height: float
    ink: str = ""
    says: str = ""


@dataclass(frozen=True)
class Stroke:
    """A line through points."""

    points: tuple[tuple[float, float], ...]
    ink: str
    width: float = 1
    dashed: bool = False


@dataclass(frozen=True)
class Disc:
    x: float
    y: float
    radius: float
    ink: str
    says: str = ""


@dataclass(frozen=True)
class Words:
    """A line of text whose foot is at ``y``; ``x`` is where it starts, its middle or its end."""

    x: float
    y: float
    text: str
    size: float = 13
    ink: str = "soft"
    anchor: Literal["start", "middle", "end"] = "start"
    bold: bool = False


Mark = Box | Stroke | Disc | Words


@dataclass(frozen=True)
class Picture:
    """Marks from the lowest to the uppermost; ``title`` says what it is of, ``summary`` in words what it shows, ``key``
    which ink stands for what."""

    width: float
    height: float
    title: str
    summary: str
    marks: tuple[Mark, ...]
    key: tuple[tuple[str, str], ...] = ()

    @property
    def on_its_own(self) -> Picture:
        """As a file has it, which nothing stands around: with its title above and its key below."""
        below = self.height + 16
        marks: list[Mark] = [Words(0, -22, self.title, size=15, ink="ink", bold=True)]
        x = 0.0
        for ink, words in self.key:
            marks += [Box(x, below - 10, 11, 11, ink), Words(x + 17, below, words, size=12)]
            x += 17 + 6.5 * len(words) + 22
        return replace(self, marks=(*self.marks, *marks))


def shortened(text: str, most: int) -> str:
    """At most so many signs of the text.

    >>> shortened("Poster at the lighthouse", 12)
    'Poster at t…'
    """
    return text if len(text) <= most else f"{text[: most - 1].rstrip()}…"
