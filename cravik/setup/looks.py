"""How a page looks: a look's document as the templates and the style sheet have it.

A document has ``colours`` (each of a palette, as hex), ``type``, ``corners``, ``header``, ``footer``, ``socials``,
``logo`` with ``logo_words``, and ``icon``. An empty one is the product's own look. The style sheet is a function of its
address alone, so it may be kept for ever by whoever fetches it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from django.urls import reverse

from cravik.core.graphics.contrast import Colour, luminance
from cravik.core.graphics.palette import COLOURS, USUAL, Palette

_SERIF = '"Iowan Old Style", "Palatino Linotype", Palatino, Georgia, serif'
_PLAIN = '"Source Sans 3", system-ui, sans-serif'
_STALL = '"Young Serif", "Source Sans 3", Georgia, serif'
#: By name: what it is called, the face of headings, the face of text.
TYPES = {
    "stall": ("Stall: a sturdy serif over plain text", _STALL, _PLAIN),
    "plain": ("Plain: one clear face for all", _PLAIN, _PLAIN),
    "book": ("Book: a serif for all", _SERIF, _SERIF),
    "notice": ("Notice: plain headings over a serif", _PLAIN, _SERIF),
    "ledger": ("Ledger: even letters in headings", 'ui-monospace, "DejaVu Sans Mono", Menlo, monospace', _PLAIN),
}
#: By name: what they are called, and their radius.
CORNERS = {
    "square": ("square", "0"),
    "slight": ("slightly rounded", "2px"),
    "round": ("round", "10px"),
    "pill": ("as round as can be", "999px"),
}
#: Named in the address of the style sheet; another whenever the same colours give another sheet.
_VERSION = 2
STYLE = re.compile(rf"[0-9a-f]{{6}}(?:-[0-9a-f]{{6}}){{{len(COLOURS) - 1}}}", re.ASCII)


@dataclass(frozen=True)
class LetterLook:
    """What a letter wears of a look: its colours, as hex, and its faces, as far as the reader's machine has them."""

    ground: str
    sheet: str
    text: str
    soft: str
    rule: str
    link: str
    band: str
    band_text: str
    headings: str
    body: str

    @classmethod
    def of(cls, palette: Palette, type_: str) -> LetterLook:
        shades = palette.shades()
        _, headings, body = TYPES[type_]
        named = {name: getattr(palette, name).hex for name in ("ground", "sheet", "text", "link", "band", "band_text")}
        return cls(**named, soft=shades["soft"].hex, rule=shades["rule-strong"].hex, headings=headings, body=body)


@dataclass(frozen=True)
class ShownLook:
    """What a buyer's page needs of a look."""

    style: str = ""
    logo: str = ""
    logo_words: str = ""
    icon: str = ""
    header: str = ""
    footer: str = ""
    socials: tuple[tuple[str, str], ...] = ()
    letter: LetterLook = field(default_factory=lambda: LetterLook.of(USUAL, "stall"))
    palette: Palette = USUAL
    corners: str = "slight"

    @property
    def has_foot(self) -> bool:
        return bool(self.footer or self.socials)


@dataclass(frozen=True)
class KeptPicture:
    """A logo or icon: the name of its files, and their widths."""

    name: str
    widths: tuple[int, ...]

    @property
    def address(self) -> str:
        """The address of the file that is sharp at the size of a logo on a fine screen."""
        return reverse("pictures:show", args=[self.name, next((w for w in self.widths if w >= 320), self.widths[-1])])


def kept_picture(document: Mapping[str, Any], name: str) -> KeptPicture | None:
    kept = document.get(name)
    return KeptPicture(kept["name"], tuple(kept["widths"])) if kept else None


def palette_of(document: Mapping[str, Any]) -> Palette:
    """The colours of a look's document; the product's own where it has none."""
    colours = document.get("colours")
    return Palette(**{name: Colour.from_hex(colours[name]) for name in COLOURS}) if colours else USUAL


def look_of(document: Mapping[str, Any]) -> ShownLook:
    """The look that a look's document says; the product's own for an empty one."""
    if not document:
        return ShownLook()
    logo, icon = kept_picture(document, "logo"), kept_picture(document, "icon")
    return ShownLook(
        style=style_address(palette_of(document), document["type"], document["corners"]),
        logo=logo.address if logo else "",
        logo_words=document.get("logo_words", ""),
        icon=icon.address if icon else "",
        header=document.get("header", ""),
        footer=document.get("footer", ""),
        socials=tuple((each["name"], each["address"]) for each in document.get("socials", ())),
        letter=LetterLook.of(palette_of(document), document["type"]),
        palette=palette_of(document),
        corners=document["corners"],
    )


def style_address(palette: Palette, type_: str, corners: str) -> str:
    """Where the style sheet of these choices is."""
    colours = "-".join(getattr(palette, name).hex[1:] for name in COLOURS)
    return reverse("looks:style", args=[_VERSION, colours, type_, corners])


@lru_cache(maxsize=256)
def style_sheet(colours: str, type_: str, corners: str) -> str:
    """The style sheet that turns the product's own look into this one."""
    palette = Palette(**{name: Colour.from_hex(each) for name, each in zip(COLOURS, colours.split("-"), strict=True)})
    _, headings, text = TYPES[type_]
    shades = palette.shades()
    values = {
        "paper": palette.ground.hex,
        "sheet": palette.sheet.hex,
        "ink": palette.text.hex,
        "ink-soft": shades["soft"].hex,
        "rule": shades["rule"].hex,
        "rule-strong": shades["rule-strong"].hex,
        "teal": palette.link.hex,
        "main": palette.button.hex,
        "main-deep": shades["button-deep"].hex,
        "on-main": palette.button_text.hex,
        "band": palette.band.hex,
        "on-band": palette.band_text.hex,
        **{name: shades[name].hex for name in shades if name.startswith(("madder", "lichen", "ochre"))},
        "corner": CORNERS[corners][1],
        "heading-face": headings,
        "heading-weight": "400" if headings == _STALL else "700",
        "text-face": text,
    }
    # What the browser itself draws, such as circles to tick, is dark where the ground is.
    scheme = "dark" if luminance(palette.ground) < luminance(palette.text) else "light"
    return f":root{{color-scheme:{scheme};" + ";".join(f"--{name}:{value}" for name, value in values.items()) + "}"
