"""Buttons that a seller pasted into pages of others: what each says, and whether that still holds.

A plain button is a copy: nothing changes it where it was pasted. So its seller says where one was, and is told when the
price or the words in it are no longer those of the link.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.links.effective import Effective, shown_to_buyers
from cravik.links.models import Link, Spot
from cravik.setup.hosts import address_base
from cravik.share.models import PastedButton
from cravik.share.on_pages.designs import button_held
from cravik.share.on_pages.plain import PlainButton, plain_button


def button_of(spot: Spot, link: Link, kind: str = "text") -> PlainButton | None:
    """The button of the spot for what buyers see of the link; none while its draft is not finished."""
    shown = shown_to_buyers(link)
    return _button(shown, kind, spot, address_base(link.business_id)) if shown else None


def _button(shown: Effective, kind: str, spot: Spot, base: str) -> PlainButton:
    return plain_button(kind, shown.offer, shown.look, button_held(spot.pk), base, spot.path)


def note_pasted(spot: Spot, button: PlainButton, now: datetime) -> None:
    """Note that the button was pasted, in the place of one that was noted before."""
    said = {"kind": button.kind, "html": button.html, "label": button.label, "pasted_at": now}
    PastedButton.objects.update_or_create(spot=spot, defaults=said)


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
    now = [_button(shown, each.kind, each.spot, base) for each in pasted]
    found = [(each, why_old(each, button)) for each, button in zip(pasted, now, strict=True)]
    return [OldButton(each.spot, f"The button pasted here still {why}. Copy it again.") for each, why in found if why]


def why_old(pasted: PastedButton, now: PlainButton) -> str:
    """What of the pasted button is out of date, after “it still …”; nothing where its words and address hold.

    How it looks is not looked at.
    """
    if pasted.label != now.label:
        return f"says “{pasted.label}”"
    href = now.html[: now.html.index('" style=')]
    return "" if pasted.html.startswith(href) else "leads to a former address"
