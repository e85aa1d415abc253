"""What everything that is pasted of a spot is made of."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace

from django.urls import reverse

from cravik.core.graphics.button import ButtonFace, words_of
from cravik.core.text.price_words import price_in_words
from cravik.links.life.shown_version import ShownVersion, shown_to_buyers
from cravik.links.models import Link, Spot
from cravik.setup.hosts import address_base
from cravik.share.on_pages.designs import HeldButton, buttons_held, face_in


@dataclass(frozen=True)
class Pasting:
    """What buyers see of the link, how the spot's button looks, and its code at an address of the business."""

    shown: ShownVersion
    held: HeldButton
    base: str
    code: str

    @property
    def address(self) -> str:
        """Where it leads."""
        return f"{self.base}{reverse('spot:page', args=[self.code])}"

    @property
    def label(self) -> str:
        """What stands on the button."""
        return words_of(self.held.design, self.shown.offer.title, price_in_words(self.shown.offer))

    @property
    def lasting_label(self) -> str:
        """The same without a price, which could be an old one some day."""
        return words_of(replace(self.held.design, says_price=False), self.shown.offer.title, "")

    @property
    def face(self) -> ButtonFace:
        return face_in(self.held.design, self.shown.look)


def pasting_of(spot: Spot, link: Link) -> Pasting | None:
    """What is pasted of the spot is made of; None while the link's draft is not finished."""
    return pastings_of([spot], link).get(spot.pk)


def pastings_of(spots: Collection[Spot], link: Link) -> dict[int, Pasting]:
    """The same for spots of the link, by their ids; nothing while its draft is not finished."""
    shown = shown_to_buyers(link) if spots else None
    if shown is None:
        return {}
    base, held = address_base(link.business_id), buttons_held([spot.pk for spot in spots])
    return {spot.pk: Pasting(shown, held[spot.pk], base, spot.code) for spot in spots}
