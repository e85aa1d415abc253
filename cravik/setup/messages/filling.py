"""Filling placeholders into the wording of a message, as plain text and as HTML.

The wording is Markdown and a seller's; the values are anybody's. Values go in after the Markdown was read, so
that nothing in them can become markup.

>>> fill_text("Dear **{buyer}**, [the page]({page})", {"buyer": "A *B*", "page": WebAddress("https://x.example/")})
'Dear A *B*, the page: https://x.example/'
>>> fill_html("Dear **{buyer}**", {"buyer": "<b>"})
'<p>Dear <strong>&lt;b&gt;</strong></p>\\n'
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

from django.utils.html import escape

from cravik.ui.markdown import rendered

#: What looks like a placeholder: a name in braces, without a space.
PLACEHOLDER = re.compile(r"\{([^{}\s]{1,60})\}")
_ALONE = re.compile(r"<p>\{([^{}\s]{1,60})\}</p>")
_IN_LINK = re.compile(r'href="(?:%7B|\{)([^{}\s"]{1,60}?)(?:%7D|\})"')
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


def fill_line(wording: str, values: Values) -> str:
    """One line, for a subject or a heading."""
    return " ".join(_filled(wording, values).split())


def fill_text(wording: str, values: Values) -> str:
    """Plain text: without the marks of emphasis, links written out, empty blocks closed up."""
    plain = _LINKED.sub(r"\1: \2", _MARKED.sub(r"\2", wording))
    return re.sub(r"\n{3,}", "\n\n", _filled(plain, values)).strip()


def fill_html(wording: str, values: Values) -> str:
    """HTML of a few harmless tags."""
    html = _ALONE.sub(lambda found: _as_paragraph(values[found[1]]), _read(wording))
    html = _IN_LINK.sub(lambda found: f'href="{escape(_as_text(values[found[1]]))}"', html)
    return PLACEHOLDER.sub(lambda found: _as_html(values[found[1]]), html)


@lru_cache(maxsize=256)
def _read(wording: str) -> str:
    return rendered(wording)


def _filled(wording: str, values: Values) -> str:
    return PLACEHOLDER.sub(lambda found: _as_text(values[found[1]]), wording)


def _as_text(value: Value) -> str:
    return value.text if isinstance(value, Block) else value


def _as_html(value: Value) -> str:
    if isinstance(value, Block):
        return value.html
    if isinstance(value, WebAddress):
        return f'<a href="{escape(value)}">{escape(value)}</a>'
    return escape(value)


def _as_paragraph(value: Value) -> str:
    return value.html if isinstance(value, Block) else f"<p>{_as_html(value)}</p>"
