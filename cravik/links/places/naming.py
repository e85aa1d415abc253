"""Names and addresses that are made at once, unique, and stay editable."""

from __future__ import annotations

import re
from collections.abc import Callable, Container
from textwrap import shorten

from anyascii import anyascii
from django.utils.text import slugify

MAX_SLUG_LENGTH = 60
MAX_NAME_LENGTH = 120
#: Of what makes a name or an address unique, such as “-1000000”.
MAX_SUFFIX_LENGTH = 8
#: Of what is made from a title, so that numbers can be added.
_MAX_MADE_LENGTH = 44
_SLUG = re.compile(r"[a-z0-9]+(?:-[a-z0-9]+)*", re.ASCII)


def slug_from(text: str) -> str:
    """Readable words for an address, in plain letters whatever the script: “Kite réparée” is
    ``kite-reparee``. Never empty."""
    # Much longer than any address, much shorter than what can be pasted.
    plain = anyascii(text[:200]).replace("'", "").replace("’", "").replace("_", " ")
    words = slugify(re.sub(r"[^a-zA-Z0-9]+", " ", plain)).replace("-", " ")
    slug = shorten(words, _MAX_MADE_LENGTH, placeholder="") or words[:_MAX_MADE_LENGTH]
    return slug.replace(" ", "-") or "offer"


def is_slug(text: str) -> bool:
    """Whether ``text`` can stand in an address as it is."""
    return len(text) <= MAX_SLUG_LENGTH and bool(_SLUG.fullmatch(text))


def first_free(wanted: str, taken: Callable[[str], bool], join: str, longest: int) -> str:
    """``wanted``, or the first of ``wanted`` + ``join`` + 2, 3, … that is not ``taken``."""
    candidate, number = wanted[:longest], 1
    while taken(candidate):
        number += 1
        ending = f"{join}{number}"
        candidate = wanted[: longest - len(ending)] + ending
    return candidate


def free_key(name: str, taken: Container[str], otherwise: str) -> str:
    """A slug by which a document knows something of that ``name``, unlike those that are ``taken``."""
    return first_free(slug_from(name) if name else otherwise, taken.__contains__, "-", MAX_SLUG_LENGTH)
