"""How a button looks on pages of others: what a seller chooses of it, what that comes to in the colours of their look,
and the same as an inline style.

>>> from cravik.core.graphics.palette import USUAL
>>> design = ButtonDesign(size="large", width="full")
>>> face = face_of(design, USUAL, "4px")
>>> face.style.startswith("display:block;box-sizing:border-box")
True
>>> words_of(design, "Kite repair", "€24.00"), words_of(ButtonDesign(words="Mend mine"), "Kite repair", "€24.00")
('Pay €24.00 for Kite repair', 'Mend mine, €24.00')
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from typing import Any

from cravik.core.graphics.contrast import BLACK, BOUND, TEXT, WHITE, Colour, luminance, mixed, nearest_passing, ratio
from cravik.core.graphics.palette import Palette

#: By name: what each is called.
SHOWS = {"button": "A button on its own", "card": "A card with picture and price", "form": "The whole form, in place"}
SIZES = {"small": "Small", "usual": "Medium", "large": "Large"}
WIDTHS = {"words": "As wide as its words", "full": "As wide as the space it has"}
ALIGNS = {"start": "At the start of the line", "middle": "Centred", "end": "At the end of the line"}
HOVERS = {
    "deeper": "Its colour gets deeper",
    "turned": "Its two colours swap",
    "lined": "Its words are underlined",
    "still": "Nothing changes",
}
LETTERS = {"page": "The one of the page around it", "plain": "A plain one, the same everywhere"}
OPENS = {"over": "Over the page", "same": "In the same window", "new": "In a new window"}
MAX_WORDS = 60
#: Size of type in rem, and what is above and beside the words in em.
_SIZES = {"small": (0.9, 0.55, 1.0), "usual": (1.0, 0.8, 1.4), "large": (1.2, 0.9, 1.7)}
_PLAIN = "system-ui,sans-serif"
_COLOURS = ("ground", "ink")
#: What dark pages and mail readers have behind it, about.
_DARK = Colour(0x1E, 0x1E, 0x1E)


@dataclass(frozen=True)
class ButtonDesign:
    """What a seller chooses. Without colours and corners of its own it has those of the link's look; without words, the
    usual ones. ``corners`` is a name that looks know."""

    shows: str = "button"
    words: str = ""
    says_price: bool = True
    ground: Colour | None = None
    ink: Colour | None = None
    corners: str = ""
    size: str = "usual"
    width: str = "words"
    align: str = "start"
    hover: str = "deeper"
    letters: str = "page"
    opens: str = "over"

    @property
    def document(self) -> dict[str, Any]:
        """As it is stored: colours as hex."""
        values = {each.name: getattr(self, each.name) for each in fields(self)}
        return {name: value.hex if isinstance(value, Colour) else value for name, value in values.items()}

    @classmethod
    def of(cls, document: Mapping[str, Any]) -> ButtonDesign:
        """From what was stored; what it lacks is as usual."""
        kept: dict[str, Any] = {each.name: document[each.name] for each in fields(cls) if each.name in document}
        kept |= {name: Colour.from_hex(kept[name]) if kept[name] else None for name in _COLOURS if name in kept}
        return cls(**kept)


@dataclass(frozen=True)
class ButtonFace:
    """What the design comes to: every colour that is drawn, and the radius of the corners as CSS has it."""

    ground: Colour
    ink: Colour
    #: The ground under a pointer, where it gets deeper.
    deep: Colour
    radius: str
    size: str
    width: str
    align: str
    hover: str
    letters: str

    @property
    def contrast(self) -> float:
        """The ratio of the words to their ground."""
        return ratio(self.ink, self.ground)

    @property
    def is_legible(self) -> bool:
        return self.contrast >= TEXT

    @property
    def mend(self) -> Colour | None:
        """The colour of words nearest to theirs that can be read on the ground; None where none can."""
        return nearest_passing(self.ink, [self.ground], TEXT)

    @property
    def on_dark(self) -> ButtonFace:
        """The face for dark grounds: with its colours changed where it would hardly stand out (WCAG 2.2, 1.4.11)."""
        if ratio(self.ground, _DARK) >= BOUND or ratio(self.ink, _DARK) < BOUND:
            return self
        return replace(self, ground=self.ink, ink=self.ground)

    @property
    def measures(self) -> tuple[float, float, float]:
        """Size of type in rem, padding above and beside in em."""
        return _SIZES[self.size]

    @property
    def style(self) -> str:
        """The face as an inline style of one element: nothing is loaded for it, and mail readers know all of it."""
        size, above, beside = self.measures
        return (
            f"{self._box};box-sizing:border-box;max-width:100%;padding:{above:g}em {beside:g}em;"
            f"border-radius:{self.radius};background:{self.ground.hex};color:{self.ink.hex};"
            f"font-size:{size:g}rem;font-weight:600;line-height:1.25;font-family:{self.family};text-align:center;text-decoration:none;overflow-wrap:anywhere"
        )

    @property
    def family(self) -> str:
        """The face of the letters, as CSS has it."""
        return "inherit" if self.letters == "page" else _PLAIN

    @property
    def _box(self) -> str:
        if self.width == "full":
            return "display:block"
        margins = {"start": "", "middle": ";margin:0 auto", "end": ";margin:0 0 0 auto"}[self.align]
        return f"display:table{margins}" if margins else "display:inline-block"


def face_of(design: ButtonDesign, palette: Palette, radius: str) -> ButtonFace:
    """The design in the colours of a look."""
    ground, ink = design.ground or palette.button, design.ink or palette.button_text
    deep = mixed(ground, BLACK if luminance(ink) > luminance(ground) else WHITE, 0.18)
    chosen = {name: getattr(design, name) for name in ("size", "width", "align", "hover", "letters")}
    return ButtonFace(ground, ink, deep, radius, **chosen)


def words_of(design: ButtonDesign, title: str, price: str) -> str:
    """What stands on the button of an offer of that title, whose price in words is ``price``."""
    if design.words:
        return f"{design.words}, {price}" if design.says_price else design.words
    if price == "free" or not design.says_price:
        return f"Get {title}"
    return f"Pay {price}{',' if ',' in price else ''} for {title}"
