"""Buttons that a seller pasted into pages of others: what each says, and whether that still holds.

A plain button is a copy: nothing changes it where it was pasted. So its seller says where one was, and is told when the
price or the words in it are no longer those of the link.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.utils.html import escape

from cravik.links.models import Link, Spot
from cravik.share.models import PastedButton
from cravik.share.on_pages.pasting import Pasting, pastings_of
from cravik.share.on_pages.plain import PlainButton


def note_pasted(spot: Spot, button: PlainButton, now: datetime) -> None:
    """Note that the button was pasted, in the place of one that was noted before."""
    values = {"kind": button.kind, "html": button.html, "label": button.label, "pasted_at": now}
    PastedButton.objects.update_or_create(spot=spot, defaults=values)


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
    now = pastings_of([each.spot for each in pasted], link)
    found = [(each, why_old(each, now[each.spot_id])) for each in pasted if each.spot_id in now]
    return [OldButton(each.spot, f"The button pasted here still {why}. Copy it again.") for each, why in found if why]


def why_old(pasted: PastedButton, now: Pasting) -> str:
    """What of the pasted button is out of date, after “it still …”; nothing where its words and address hold.

    How it looks is not looked at.
    """
    if pasted.label != now.label:
        return f"says “{pasted.label}”"
    return "" if f'href="{escape(now.address)}"' in pasted.html else "leads to a former address"
