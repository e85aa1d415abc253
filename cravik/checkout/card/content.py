"""What the card of a link says, and how it looks: made from the offer, or in the seller's own words."""

from __future__ import annotations

import hashlib
from dataclasses import astuple, dataclass

from cravik.catalogue.queries import ShownPicture
from cravik.checkout.opening import Seller
from cravik.checkout.parts.base import Offered
from cravik.core.text.price_words import price_in_words
from cravik.setup.looks import LetterLook
from cravik.ui.picture_files import name_in_address

#: Of the drawing: another number whenever the same content is drawn otherwise.
_DRAWING = 1


@dataclass(frozen=True)
class Card:
    """All that is drawn. ``picture`` and ``logo`` are files by the last part of their address, or nothing."""

    title: str
    words: str
    price: str
    seller: str
    picture: str
    logo: str
    look: LetterLook

    @property
    def key(self) -> str:
        """Another one whenever the picture is another: it stands in the address, so that nobody shows an old one."""
        return hashlib.sha256(repr((_DRAWING, astuple(self))).encode()).hexdigest()[:16]


def first_picture(offered: Offered) -> ShownPicture | None:
    """What stands for the whole in one picture: the first of the first item that has one."""
    pictures = (picture for line in offered.offer.lines for picture in offered.item_of(line).pictures)
    return next(pictures, None)


def card_of(offered: Offered, seller: Seller) -> Card:
    """The card of what is offered."""
    own, offer, picture = offered.version.content.page.card, offered.offer, first_picture(offered)
    return Card(
        title=own.title or offer.title,
        words=own.words,
        price=price_in_words(offer),
        seller=seller.name,
        picture=name_in_address(picture.address) if picture else "",
        logo=name_in_address(offered.version.look.logo),
        look=offered.version.look.letter,
    )
