"""A draft as it is rehearsed: the same as what is opened at an address, with nothing counted."""

from __future__ import annotations

from cravik.checkout.opening import Opened
from cravik.links.effective import effective_draft
from cravik.links.models import Link
from cravik.links.queries import SpotRow
from cravik.links.spots import first_spot


def opened_draft(link: Link) -> Opened:
    """The draft of the link, open whatever its state: a rehearsal may be had at any time."""
    business = link.business
    row = SpotRow(
        spot_id=first_spot(link).pk,
        link_id=link.pk,
        business_id=business.pk,
        edition_id=None,
        state=Link.State.LIVE,
        ended_why="",
        slug="",
        is_current=True,
        paid=0,
        held=0,
        seller_name=business.name,
        support_email=business.support_email,
        statement_text=business.statement_text,
        country=business.country,
        time_zone=business.time_zone,
    )
    return Opened(row, effective_draft(link))
