"""What is pasted into a page: the element with its script, and what a strict page has to allow for it."""

from __future__ import annotations

from urllib.parse import urlsplit

from django.urls import reverse
from django.utils.html import format_html

from cravik.share.on_pages.pasting import Pasting


def script_block(pasting: Pasting) -> str:
    """One block, which may stand on a page as often as wanted.

    The link in it is seen until the script has drawn the button, and stays where no script may run. It says no price,
    so that it never says an old one.
    """
    return _block(pasting, format_html(' style="{}"', pasting.face.style))


def bare_block(pasting: Pasting) -> str:
    """The same for a page whose code its owner writes: without a style, which a strict policy would not let through."""
    return _block(pasting, "")


def _block(pasting: Pasting, style: str) -> str:
    return format_html(
        '<cravik-spot at="{0}"><a href="{0}"{1}>{2}</a></cravik-spot>\n<script async src="{3}"></script>',
        *(pasting.address, style, pasting.lasting_label, script_address(pasting.base)),
    )


def script_address(base: str) -> str:
    """Where the script is."""
    return f"{base}{reverse('on_page:script')}"


def policy_of(base: str) -> dict[str, str]:
    """What a page under a strict policy (CSP Level 3) has to allow, by directive: its source."""
    parts = urlsplit(base)
    origin = f"{parts.scheme}://{parts.netloc}"
    return dict.fromkeys(("script-src", "connect-src", "frame-src", "img-src"), origin)
