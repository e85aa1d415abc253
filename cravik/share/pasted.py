"""Buttons that a seller pasted into pages of others: what each says, and whether that still holds.

A plain button is a copy: nothing changes it where it was pasted. So its seller says where one was, and is told when the
price or the words in it are no longer those of the link.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.links.effective import shown_to_buyers
from cravik.links.models import Link, Spot
from cravik.setup.hosts import address_base, address_of
from cravik.share.button import Button, plain_button
from cravik.share.models import PastedButton


def button_of(spot: Spot, link: Link) -> Button | None:
    """The button of the spot for what buyers see of the link; none while its draft is not finished."""
    shown = shown_to_buyers(link)
    return plain_button(shown.offer, address_of(link.business_id, spot.path)) if shown else None


def note_pasted(spot: Spot, button: Button, now: datetime) -> None:
    """Note that the button was pasted, in the place of one that was noted before."""
    PastedButton.objects.update_or_create(
        spot=spot, defaults={"html": button.html, "label": button.label, "pasted_at": now}
    )


def forget_pasted(spot: Spot) -> None:
    """Note that the button is not there any more."""
    PastedButton.objects.filter(spot=spot).delete()


@dataclass(frozen=True)
class OldButton:
    """A button that is not what would be copied now: where it was pasted, and what to do about it, in a sentence."""

    spot: Spot
    words: str


def out_of_date(link: Link) -> list[OldButton]:
    """Those at spots of the link, by the spots' names."""
    pasted = list(PastedButton.objects.filter(spot__link=link).select_related("spot").order_by("spot__name"))
    shown = shown_to_buyers(link) if pasted else None
    if shown is None:
        return []
    base = address_base(link.business_id)
    now = [plain_button(shown.offer, f"{base}{each.spot.path}") for each in pasted]
    return [
        OldButton(each.spot, _words(each, button))
        for each, button in zip(pasted, now, strict=True)
        if each.html != button.html
    ]


def _words(old: PastedButton, now: Button) -> str:
    if old.label == now.label:
        return "The button pasted here leads to a former address. Copy it again."
    return f"The button pasted here still says “{old.label}”. Copy it again."
