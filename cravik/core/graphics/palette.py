"""A brand's colours, the pairs of them that are read, and the shades that a page needs beside them.

>>> [pair.name for pair in USUAL.pairs() if not pair.passes]
[]
"""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

from cravik.core.graphics.contrast import (
    BLACK,
    BOUND,
    TEXT,
    WHITE,
    Colour,
    luminance,
    mixed,
    nearest_passing,
    passes,
    ratio,
)


@dataclass(frozen=True, slots=True)
class Pair:
    """A colour that is read on another: which they are, their ratio, the least it must be, and the nearest
    colour that would pass (None where none can on every ground that it stands on)."""

    name: str
    on: str
    ratio: float
    least: float
    mend: Colour | None

    @property
    def passes(self) -> bool:
        return self.ratio >= self.least


@dataclass(frozen=True, slots=True)
class Palette:
    """The colours that a seller chooses."""

    ground: Colour
    sheet: Colour
    text: Colour
    link: Colour
    button: Colour
    button_text: Colour
    band: Colour
    band_text: Colour

    def pairs(self) -> tuple[Pair, ...]:
        """Every pair that is read, with the nearest colour that passes for what stands on the other."""
        return tuple(self._pair(name, on, grounds) for name, grounds in _READ_ON.items() for on in grounds)

    def mended(self, name: str) -> Palette:
        """The palette with that colour moved to the nearest that passes, if there is one."""
        mend = nearest_passing(getattr(self, name), [getattr(self, on) for on in _READ_ON[name]], TEXT)
        return replace(self, **{name: mend}) if mend else self

    def _pair(self, name: str, on: str, grounds: tuple[str, ...]) -> Pair:
        colour = getattr(self, name)
        mend = nearest_passing(colour, [getattr(self, each) for each in grounds], TEXT)
        return Pair(name, on, ratio(colour, getattr(self, on)), TEXT, mend)

    def shades(self) -> dict[str, Colour]:
        """What the page's style sheet needs beside the chosen colours, each legible where it is read."""
        grounds = (self.ground, self.sheet)
        shades = {
            "soft": _legible(mixed(self.text, self.ground, 0.28), grounds, TEXT, self.text),
            "rule": mixed(self.ground, self.text, 0.16),
            "rule-strong": _legible(mixed(self.ground, self.text, 0.5), grounds, BOUND, self.text),
            "button-deep": mixed(self.button, BLACK if luminance(self.button_text) > 0.4 else WHITE, 0.18),
        }
        for name, colour in _SIGNALS.items():
            wash = mixed(self.sheet, colour, 0.09)
            shades[name] = _legible(colour, (*grounds, wash), TEXT, self.text)
            shades[f"{name}-wash"] = wash if passes(self.text, (wash,), TEXT) else self.sheet
        return shades


_READ_ON = {
    "text": ("ground", "sheet"),
    "link": ("ground", "sheet"),
    "button_text": ("button",),
    "band_text": ("band",),
}
# What says wrong, good and mind this, whatever the brand.
_SIGNALS = {
    "madder": Colour.from_hex("#a63a28"),
    "lichen": Colour.from_hex("#4f6b2f"),
    "ochre": Colour.from_hex("#8a5a00"),
}
#: The product's own colours, for who has chosen none.
USUAL = Palette(
    ground=Colour.from_hex("#fbf7f0"),
    sheet=Colour.from_hex("#fffdf9"),
    text=Colour.from_hex("#22302e"),
    link=Colour.from_hex("#1c6b66"),
    button=Colour.from_hex("#a63a28"),
    button_text=WHITE,
    band=Colour.from_hex("#fbf7f0"),
    band_text=Colour.from_hex("#22302e"),
)
COLOURS = tuple(field.name for field in fields(Palette))


def _legible(colour: Colour, grounds: tuple[Colour, ...], least: float, otherwise: Colour) -> Colour:
    return nearest_passing(colour, grounds, least) or otherwise
