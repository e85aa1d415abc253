"""Where the sample's seller put her links: notes, a photo, an ended spot, and a code in her own look."""

from __future__ import annotations

from datetime import datetime, timedelta

from cravik.core.graphics.button import ButtonDesign
from cravik.core.graphics.contrast import Colour
from cravik.core.graphics.qr.design import CodeDesign
from cravik.core.link.sites import LOCAL
from cravik.demo.drawings import stall_sign
from cravik.demo.seller import seller_of
from cravik.links.models import Link, Spot
from cravik.links.places.sites import allow_site
from cravik.links.places.spots import describe_spot, end_spot, keep_photo, make_spot
from cravik.people.models import Business
from cravik.share.codes.designs import keep_design, usual_look
from cravik.share.handles import name_handle
from cravik.share.on_pages.arrival import place
from cravik.share.on_pages.designs import keep_button
from cravik.share.on_pages.sightings import note_seen
from cravik.ui.picture_files import keep_picture

_NOTES = {
    "Stall sign": "On the left post of the stall, at eye level.",
    "Winter newsletter": "Sent on the first Sunday in November.",
    "Poster at the lighthouse": "Beside the ticket window. Ask Tam before changing it.",
}
_CODE = CodeDesign(
    dark=Colour(0x22, 0x30, 0x2E),
    eyes=Colour(0x86, 0x2C, 0x1D),
    shape="soft",
    eye_shape="soft",
    middle="word",
    word="Kite",
    middle_width=26,
    caption="Scan to pay",
)


def hand_out(business: Business, now: datetime) -> None:
    """Note what hangs where, and draw its codes in the seller's own way."""
    by = seller_of(business)
    for spot in Spot.objects.filter(link__business=business, name__in=_NOTES):
        describe_spot(spot, spot.name, _NOTES[spot.name], now, by=by)
    first = Link.objects.of(business).order_by("id")[0]
    file = stall_sign()
    keep_photo(first.spots.get(name="Stall sign"), keep_picture(file, file.getbuffer().nbytes), now, by=by)
    fair = make_spot(first, "Flyer of the harbour fair", now - timedelta(days=90), by=by)
    end_spot(fair, "", now - timedelta(days=60), by=by)
    look = usual_look(business)
    assert look is not None
    keep_design(look, _CODE, None, 50, 0, now, by=by)
    name_handle(business, "windlestraw", now, by=by)
    _on_pages(business, first, now)


def _on_pages(business: Business, link: Link, now: datetime) -> None:
    """A card on the page of the kite club, where it is seen, and a site that nobody allowed."""
    by = seller_of(business)
    club = link.spots.get(name="Page of the kite club")
    card = ButtonDesign(shows="card", words="Order one", says_price=False, corners="round")
    keep_button(club, card, None, 0, now, by=by)
    for host in (LOCAL, "windlestraw.example"):
        allow_site(business, None, host, now, subdomains=host != LOCAL, by=by)
    allow_site(business, link, "marram-kites.example", now, subdomains=False, by=by)
    place(club, "https://www.marram-kites.example/friends/", now - timedelta(days=20))
    note_seen(club.pk, "marram-kites.example", now - timedelta(minutes=3), is_allowed=True)
    film = link.spots.get(name="Film of the big race")
    note_seen(film.pk, "race-of-the-year.example", now - timedelta(hours=2), is_allowed=False)
