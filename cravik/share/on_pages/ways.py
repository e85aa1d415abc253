"""Where a button goes, as a seller would say it: what is pasted there, and how. One row a way."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from cravik.share.on_pages.blocks import bare_block, script_block
from cravik.share.on_pages.pasting import Pasting
from cravik.share.on_pages.plain import plain_button


@dataclass(frozen=True)
class Way:
    """``asks`` is what a seller says of the place, ``paste`` what stands above the block, ``steps`` what to do there.

    ``is_live`` tells whether a change shows there without pasting again.
    """

    key: str
    asks: str
    paste: str
    #: Of what is pasted, and the kind of a plain button.
    block: Callable[[Pasting, str], str]
    steps: tuple[str, ...]
    is_live: bool = True


WAYS: Mapping[str, Way] = {
    way.key: way
    for way in (
        Way(
            "builder",
            "A page made in a page builder",
            "Paste this block",
            lambda pasting, _: script_block(pasting),
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
            lambda pasting, kind: plain_button(pasting, kind).html,
            (
                "Switch the letter to its HTML view, or add a block for HTML.",
                "Paste the button where it should stand. It needs no script: mail readers don't run any.",
                "Send it to yourself first, and press it.",
            ),
            is_live=False,
        ),
        Way(
            "code",
            "My own HTML",
            "Paste this into the page",
            lambda pasting, _: bare_block(pasting),
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
            lambda pasting, _: pasting.address,
            (
                "Paste the address, or put it behind words or a picture of yours.",
                "Where the editor turns addresses into cards by itself, it shows title, price and picture.",
            ),
        ),
    )
}
