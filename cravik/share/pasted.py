"""Buttons that a seller pasted into pages of others: what each says, and whether that still holds.

A plain button is a copy: nothing changes it where it was pasted. So its seller says where one was, and is told when the
price or the words in it are no longer those of the link.
"""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime

from cravik.links.effective import shown_to_buyers
from cravik.links.models import Link, Spot
from cravik.setup.hosts import address_of
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


def all_out_of_date(link: Link) -> list[PastedButton]:
    """Those of all the spots that lead to the link, each with its spot, by the spots' names."""
    spots = Spot.objects.filter(link=link, id__in=PastedButton.objects.values("spot"))
    named = {spot.pk: spot for spot in spots.order_by("name")}
    old = out_of_date(link, list(named.values()))
    for pk, each in old.items():
        each.spot = named[pk]
    return [old[pk] for pk in named if pk in old]


def out_of_date(link: Link, spots: Collection[Spot]) -> dict[int, PastedButton]:
    """The buttons pasted at the spots, by their ids, that say something else than the link does now."""
    pasted = {each.spot_id: each for each in PastedButton.objects.filter(spot__in=spots)}
    if not pasted:
        return {}
    now = {spot.pk: button_of(spot, link) for spot in spots if spot.pk in pasted}
    return {pk: each for pk, each in pasted.items() if (button := now[pk]) and button.html != each.html}
