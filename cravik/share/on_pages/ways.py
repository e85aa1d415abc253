"""Where a button goes, as a seller would say it: what is pasted there, and how. One row a way."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from cravik.links.effective import Effective
from cravik.share.on_pages.blocks import bare_block, script_block
from cravik.share.on_pages.designs import HeldButton
from cravik.share.on_pages.plain import plain_button


@dataclass(frozen=True)
class Pasting:
    """What a block is made of: what buyers see, how the button looks, and where it leads."""

    shown: Effective
    held: HeldButton
    base: str
    path: str
    #: Of a plain button.
    kind: str = "text"


@dataclass(frozen=True)
class Way:
    """``asks`` is what a seller says of the place, ``paste`` what stands above the block, ``steps`` what to do there.

    ``is_live`` tells whether a change shows there without pasting again.
    """

    key: str
    asks: str
    paste: str
    block: Callable[[Pasting], str]
    steps: tuple[str, ...]
    is_live: bool = True


def _script(pasting: Pasting) -> str:
    return script_block(pasting.shown, pasting.held, pasting.base, pasting.path)


def _bare(pasting: Pasting) -> str:
    return bare_block(pasting.shown, pasting.held, pasting.base, pasting.path)


def _plain(pasting: Pasting) -> str:
    return plain_button(
        pasting.kind, pasting.shown.offer, pasting.shown.look, pasting.held, pasting.base, pasting.path
    ).html


def _address(pasting: Pasting) -> str:
    return f"{pasting.base}{pasting.path}"


WAYS: Mapping[str, Way] = {
    way.key: way
    for way in (
        Way(
            "builder",
            "A page made in a page builder",
            "Paste this block",
            _script,
            (
                "Open the page for editing, and add a block for HTML or code where the button should be.",
                "Paste the block into it, whole. You can paste it on as many pages as you like.",
                "Save or publish the page. The editor itself may show a plain link; the page shows the button.",
            ),
        ),
        Way(
            "newsletter",
            "A newsletter or an e-mail",
            "Paste this button",
            _plain,
            (
                "Switch the letter to its HTML view, or add a block for HTML.",
                "Paste the button where it should stand. It needs no script, which no mail reader would run.",
                "Send it to yourself first, and press it.",
            ),
            is_live=False,
        ),
        Way(
            "code",
            "A page whose code I write",
            "Paste this into the page",
            _bare,
            (
                "Put the element where the button should be. Its script can stand once in the head instead.",
                "The link inside is what is seen until the script has run. Style it as you like, or leave it out.",
                "If the page has a policy for content, add what stands below.",
            ),
        ),
        Way(
            "link",
            "A place that only takes a link",
            "Use this address",
            _address,
            (
                "Paste the address, or put it behind words or a picture of yours.",
                "Where the editor turns addresses into cards by itself, it shows title, price and picture.",
            ),
        ),
    )
}
