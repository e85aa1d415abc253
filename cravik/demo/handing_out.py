"""Where the sample's seller put her links: notes, a photo, an ended spot, and a code in her own look."""

from __future__ import annotations

from datetime import datetime, timedelta

from cravik.core.graphics.contrast import Colour
from cravik.core.graphics.qr.design import CodeDesign
from cravik.demo.drawings import stall_sign
from cravik.links.models import Link, Spot
from cravik.links.spots import describe_spot, end_spot, keep_photo, make_spot
from cravik.setup.models import Business
from cravik.share.codes.designs import keep_design, usual_kit
from cravik.share.handles import name_handle
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
    for spot in Spot.objects.filter(link__business=business, name__in=_NOTES):
        describe_spot(spot, spot.name, _NOTES[spot.name])
    first = Link.objects.of(business).order_by("id")[0]
    file = stall_sign()
    keep_photo(first.spots.get(name="Stall sign"), keep_picture(file, file.getbuffer().nbytes))
    fair = make_spot(first, "Flyer of the harbour fair", now - timedelta(days=90))
    end_spot(fair, "", now - timedelta(days=60))
    kit = usual_kit(business)
    assert kit is not None
    keep_design(kit, _CODE, None, 50, 0, now)
    name_handle(business, "windlestraw", now)
