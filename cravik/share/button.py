"""The plain button: a link in HTML that looks like a button wherever it is pasted."""

from __future__ import annotations

import base64
import hashlib
from dataclasses import dataclass

from django.utils.html import format_html

from cravik.core.pricing.offer import Offer
from cravik.core.text.price_words import price_in_words

# White on madder: 6.3 : 1. A system face, so that the button loads nothing.
_STYLE = (
    "display:inline-block;padding:.8em 1.4em;border-radius:.25em;background:#a63a28;color:#fff;"
    "font:600 1rem/1.25 system-ui,sans-serif;text-decoration:none;"
    "max-width:100%;box-sizing:border-box;overflow-wrap:anywhere"
)


@dataclass(frozen=True)
class Button:
    """``html`` is what is pasted, ``label`` its words; ``style_hash`` lets a page under a strict policy show it."""

    html: str
    label: str
    style_hash: str


def plain_button(offer: Offer, address: str) -> Button:
    """A button that says what the offer costs, and leads to ``address``."""
    price = price_in_words(offer)
    label = f"Get {offer.title}" if price == "free" else f"Pay {price}{',' if ',' in price else ''} for {offer.title}"
    html = format_html('<a href="{}" style="{}">{}</a>', address, _STYLE, label)
    digest = base64.b64encode(hashlib.sha256(_STYLE.encode()).digest()).decode()
    return Button(html, label, f"'sha256-{digest}'")
