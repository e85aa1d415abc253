"""How a QR code looks: what a seller chooses of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from typing import Any

from cravik.core.graphics.contrast import WHITE, Colour

#: By name: what they are called. The standard's modules are squares; what is read of each is its middle.
SHAPES = {"square": "Square", "soft": "Soft, with rounded corners", "dots": "Dots"}
#: Their outer edge stays square: readers that look for its corners do not find a rounded one.
EYES = {"square": "Square", "soft": "Rounded inside"}
MIDDLES = {
    "nothing": "Nothing",
    "word": "A short word",
    "icon": "The icon of the look",
    "logo": "The logo of the look",
    "picture": "A picture of its own",
}
MAX_WORD, MAX_CAPTION = 8, 60
#: Modules of white around the symbol, and the width of what is in the middle, in percent of the symbol's.
MAX_QUIET = 12
LEAST_MIDDLE, MOST_MIDDLE = 12, 50
INK = Colour(0x22, 0x30, 0x2E)


@dataclass(frozen=True)
class CodeDesign:
    """What a code looks like.

    ``eyes`` is the colour of the three large squares in the corners. ``quiet`` is the width of the margin in modules;
    ``middle_width`` that of what is in the middle, in percent of the symbol.
    """

    dark: Colour = INK
    eyes: Colour = INK
    light: Colour = WHITE
    shape: str = "square"
    eye_shape: str = "square"
    quiet: int = 4
    middle: str = "nothing"
    middle_width: int = 24
    word: str = ""
    caption: str = ""

    @property
    def has_middle(self) -> bool:
        return self.middle != "nothing" and (self.middle != "word" or bool(self.word))

    @property
    def document(self) -> dict[str, Any]:
        """As it is stored: colours as hex."""
        values = {each.name: getattr(self, each.name) for each in fields(self)}
        return {name: value.hex if isinstance(value, Colour) else value for name, value in values.items()}

    @classmethod
    def of(cls, document: Mapping[str, Any]) -> CodeDesign:
        """From what was stored; what it lacks is as usual."""
        names = {each.name for each in fields(cls)}
        kept: dict[str, Any] = {name: value for name, value in document.items() if name in names}
        kept |= {name: Colour.from_hex(kept[name]) for name in ("dark", "eyes", "light") if name in kept}
        return cls(**kept)
