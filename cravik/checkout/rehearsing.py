"""A draft as it is rehearsed: the same as what is opened at an address, with nothing counted."""

from __future__ import annotations

from cravik.checkout.opening import Opened
from cravik.links.life.shown_version import shown_draft
from cravik.links.making.from_text import ParsedLink
from cravik.links.models import Link
from cravik.links.places.spots import first_spot
from cravik.links.queries import SpotRow
from cravik.people.models import Business


def opened_draft(link: Link) -> Opened:
    """The draft of the link, open whatever its state: a rehearsal may be had at any time."""
    return Opened(_row(link.business, first_spot(link).pk, link.pk), shown_draft(link))


def opened_parsed(parsed: ParsedLink) -> Opened:
    """What was said and is no link yet."""
    link = Link(id=0, business=parsed.business, draft=parsed.draft, effective=parsed.effective)
    return Opened(_row(parsed.business, 0, 0), shown_draft(link))


def _row(business: Business, spot_id: int, link_id: int) -> SpotRow:
    return SpotRow(
        spot_id=spot_id,
        link_id=link_id,
        business_id=business.pk,
        version_id=None,
        state=Link.State.LIVE,
        ended_why="",
        is_archived=False,
        slug="",
        is_current=True,
        paid=0,
        held=0,
        seller_name=business.name,
        support_email=business.support_email,
        statement_text=business.statement_text,
        country=business.country,
        time_zone=business.time_zone,
        ways=business.ways,
    )
