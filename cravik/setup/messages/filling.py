"""Filling placeholders into the wording of a message, as plain text and as HTML.

The wording is Markdown and a seller's; the values are anybody's. A wording is parsed once into its pieces: words, and
the places that values go into. Values are put there and never looked at again, so nothing in them can become markup
or a placeholder. A name in braces that the message has no value for stays as it was written.

>>> fill_text("Dear **{buyer}**, [the page]({page})", {"buyer": "A *{page}*", "page": WebAddress("https://x.example/")})
'Dear A *{page}*, the page: https://x.example/'
>>> fill_html("Dear **{buyer}**, {nobody}", {"buyer": "<b> {buyer}"})
'<p>Dear <strong>&lt;b&gt; {buyer}</strong>, {nobody}</p>\\n'
"""

from __future__ import annotations

import difflib
import re
from collections.abc import Collection, Mapping
from enum import Enum
from functools import lru_cache
from typing import NamedTuple
from urllib.parse import quote

from django.utils.html import escape

from cravik.ui.markdown import rendered

_NAME = r"[^{}\s\"]{1,60}"
_PLACEHOLDER = re.compile(rf"\{{({_NAME})\}}")
_IN_BRACES = re.compile(r"\{([^{}]*)\}")
#: Where values go in HTML: a paragraph of their own, the address of a link, anywhere else.
_PLACES = re.compile(rf"<p>\{{({_NAME})\}}</p>|href=\"([^\"]*?(?:%7B|\{{)[^\"]*)\"|\{{({_NAME})\}}")
_IN_ADDRESS = re.compile(r"(?:%7B|\{)([^{}\s\"%]{1,60})(?:%7D|\})")
#: What an address begins with in a wording, where only a part of it is a value.
_LEADS_OUT = re.compile(r"(?:https?://|mailto:)", re.IGNORECASE)
_MARKED = re.compile(r"(\*\*|\*)(?=\S)(.+?)(?<=\S)\1")
_LINKED = re.compile(r"\[([^\[\]]+)\]\(([^()\s]+)\)")


class WebAddress(str):
    """An address, which is a link in HTML."""


class Block(NamedTuple):
    """Several lines that stand by themselves, as plain text and as HTML; both may be empty."""

    text: str
    html: str


Value = str | Block
Values = Mapping[str, Value]


class _Place(Enum):
    WORDS = "words as they are"
    ALONE = "a value that is a paragraph"
    ADDRESS = "the address of a link, with values in it"
    AMONG = "a value among words"


class _Piece(NamedTuple):
    place: _Place
    #: The words, the address, or the name of the value.
    text: str
    #: What stands there where the message has no such value.
    written: str = ""


def fill_line(wording: str, values: Values) -> str:
    """One line, for a subject or a heading."""
    return " ".join(_filled(wording, values).split())


def fill_text(wording: str, values: Values) -> str:
    """Plain text: without the marks of emphasis, links written out, empty blocks closed up."""
    plain = _LINKED.sub(r"\1: \2", _MARKED.sub(r"\2", wording))
    return re.sub(r"\n{3,}", "\n\n", _filled(plain, values)).strip()


def fill_html(wording: str, values: Values) -> str:
    """HTML of a few harmless tags."""
    return "".join(_piece_html(piece, values) for piece in _pieces(wording))


def unknown_placeholders(wording: str, known: Collection[str]) -> dict[str, str]:
    """What stands in braces and means nothing, each with what was probably meant; "" where nothing is near."""
    unknown = dict.fromkeys(name for name in _IN_BRACES.findall(wording) if name not in known)
    return {name: next(iter(difflib.get_close_matches(name.lower(), known, 1, 0.5)), "") for name in unknown}


@lru_cache(maxsize=256)
def _pieces(wording: str) -> tuple[_Piece, ...]:
    html, pieces, at = rendered(wording), list[_Piece](), 0
    for found in _PLACES.finditer(html):
        pieces.append(_Piece(_Place.WORDS, html[at : found.start()]))
        at = found.end()
        for place, text in zip((_Place.ALONE, _Place.ADDRESS, _Place.AMONG), found.groups(), strict=True):
            if text is not None:
                pieces.append(_Piece(place, text, found[0]))
    return *pieces, _Piece(_Place.WORDS, html[at:])


def _piece_html(piece: _Piece, values: Values) -> str:
    match piece.place:
        case _Place.WORDS:
            return piece.text
        case _Place.ADDRESS:
            return _href(piece.text, values)
        case _ if piece.text not in values:
            return piece.written
        case _Place.ALONE:
            return _as_paragraph(values[piece.text])
        case _:
            return _as_html(values[piece.text])


def _href(address: str, values: Values) -> str:
    """The address with its values. One that is nothing but a value has to be a web address, or the link leads nowhere;
    what is a part of one is quoted."""
    whole = _IN_ADDRESS.fullmatch(address)
    if whole:
        value = values.get(whole[1], "")
        return f'href="{escape(value)}"' if isinstance(value, WebAddress) else ""
    if not _LEADS_OUT.match(address):
        return ""

    def part(found: re.Match[str]) -> str:
        return quote(as_text(values[found[1]]), safe="@") if found[1] in values else found[0]

    return f'href="{_IN_ADDRESS.sub(part, address)}"'


def _filled(wording: str, values: Values) -> str:
    return _PLACEHOLDER.sub(lambda found: as_text(values[found[1]]) if found[1] in values else found[0], wording)


def as_text(value: Value) -> str:
    """The value in a letter's plain text."""
    return value.text if isinstance(value, Block) else value


def _as_html(value: Value) -> str:
    if isinstance(value, Block):
        return value.html
    if isinstance(value, WebAddress):
        return f'<a href="{escape(value)}">{escape(value)}</a>'
    return escape(value)


def _as_paragraph(value: Value) -> str:
    return value.html if isinstance(value, Block) else f"<p>{_as_html(value)}</p>"
