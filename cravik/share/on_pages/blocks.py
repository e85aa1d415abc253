"""What is pasted into a page: the element with its script, and what a strict page has to allow for it."""

from __future__ import annotations

from dataclasses import replace
from urllib.parse import urlsplit

from django.urls import reverse
from django.utils.html import format_html

from cravik.core.graphics.button import words_of
from cravik.links.effective import Effective
from cravik.share.on_pages.designs import HeldButton, face_in


def script_block(shown: Effective, held: HeldButton, base: str, path: str) -> str:
    """One block, which may stand on a page as often as wanted.

    The link in it is seen until the script has drawn the button, and stays where no script may run. It says no price,
    so that it never says an old one.
    """
    style = format_html(' style="{}"', face_in(held.design, shown.look).style)
    return _block(shown, held, base, path, style)


def bare_block(shown: Effective, held: HeldButton, base: str, path: str) -> str:
    """The same for a page whose code its owner writes: without a style, which a strict policy would not let through."""
    return _block(shown, held, base, path, "")


def _block(shown: Effective, held: HeldButton, base: str, path: str, style: str) -> str:
    label = words_of(replace(held.design, says_price=False), shown.offer.title, "")
    address, script = f"{base}{path}", script_address(base)
    return format_html(
        '<cravik-spot at="{0}"><a href="{0}"{1}>{2}</a></cravik-spot>\n<script async src="{3}"></script>',
        *(address, style, label, script),
    )


def script_address(base: str) -> str:
    """Where the script is."""
    return f"{base}{reverse('on_page:script')}"


def policy_of(base: str) -> dict[str, str]:
    """What a page under a strict policy (CSP Level 3) has to allow, by directive: its source."""
    parts = urlsplit(base)
    origin = f"{parts.scheme}://{parts.netloc}"
    return dict.fromkeys(("script-src", "connect-src", "frame-src", "img-src"), origin)
