"""The one door to a link's page: an address, or a spot's code, leads to what is opened there.

What is opened says which version holds at which spot, and is judged at an instant: whether it can be bought then,
and by which of its prices.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import Literal

from cravik.core.link.closing import is_used_up, why_closed
from cravik.core.link.counted import Counted
from cravik.core.pricing.offer import Offer
from cravik.links.life.counting import NO_PIECES, Pieces, pieces_of
from cravik.links.life.shown_version import ShownVersion, shown_version
from cravik.links.models import Link
from cravik.links.queries import SpotRow, spot_at_address, spot_by_code
from cravik.setup.hosts import base_at
from cravik.ui.timings import Clock
from cravik.upkeep.hooks import Hook

#: Why a page takes no payments: it was never published, it is paused, it ended (by hand, by day, by count), it is not
#: open yet, it was archived, all of its places are held by buyers who are paying, or what it sells is sold out.
Closed = Literal["draft", "paused", "by_hand", "day", "count", "not_open_yet", "archived", "all_held", "sold_out"]


@dataclass(frozen=True)
class Seller:
    """What a buyer sees of the business."""

    name: str
    support_email: str
    statement_text: str
    country: str
    time_zone: str
    business_id: int = 0
    #: Scheme and host of the addresses that buyers get.
    base: str = ""


@dataclass(frozen=True)
class Opened:
    """A link at one of its spots, with what is published of it."""

    row: SpotRow
    version: ShownVersion | None

    @property
    def link_id(self) -> int:
        return self.row.link_id

    @cached_property
    def pieces(self) -> Pieces:
        """What is counted of its lines; nothing in a rehearsal."""
        return pieces_of(self.link_id) if self.row.version_id else NO_PIECES

    @property
    def is_rehearsed(self) -> bool:
        """Whether it is a draft, as its seller rehearses it."""
        return self.version is not None and self.version.version_id is None

    def counted_for(self, version: ShownVersion) -> Counted:
        """What is counted, as far as it matters to the version: what is paid, and what is being paid."""
        return Counted(self.row.paid + self.row.held, self.pieces.taken if version.content.counts_pieces else {})

    def seller(self, version: ShownVersion | None = None) -> Seller:
        """The business, with the contact of the link where it has its own."""
        holds = version or self.version
        own = holds.own_contact if holds else {}
        row = self.row
        return Seller(
            row.seller_name,
            own.get("support_email") or row.support_email,
            own.get("statement_text") or row.statement_text,
            row.country,
            row.time_zone,
            row.business_id,
            base_at(row.host),
        )

    def why_closed(self, instant: datetime) -> Closed | None:
        """Why nothing can be bought at the instant, or None where it can. Stock is not looked at."""
        if self.version is None:
            return "draft"
        if self.row.is_archived:
            return "archived"
        if self.row.state == Link.State.PAUSED:
            return "paused"
        if self.row.state == Link.State.ENDED:
            return ended_why(self.row.ended_why)
        content, taken = self.version.content, self.counted_for(self.version)
        paid = Counted(self.row.paid, self.pieces.paid if content.counts_pieces else {})
        closed: Closed | None = why_closed(content, instant, paid)
        return "all_held" if closed is None and is_used_up(content, taken) else closed

    def offer_at(self, instant: datetime) -> Offer:
        """The offer that holds at the instant, after what is counted now."""
        assert self.version is not None
        return self.version.offer_at(instant, self.counted_for(self.version))


#: Asked, where all that is left of a link is held by others, to set free what nobody pays for any more: with the link
#: and its items; whether that set anything free.
room_wanted: Hook[[int, frozenset[int], Clock], bool] = Hook("cravik.checkout.opening.room_wanted")


def open_address(slug: str) -> Opened | None:
    """The link at a readable address, present or former."""
    return _opened(spot_at_address(slug))


def open_spot(code: str) -> Opened | None:
    """The link at the spot of that short code."""
    return _opened(spot_by_code(code))


def ended_why(why: str) -> Closed:
    """An ended link's reason, as a page says it."""
    return "day" if why == Link.EndedWhy.DAY else "count" if why == Link.EndedWhy.COUNT else "by_hand"


def _opened(row: SpotRow | None) -> Opened | None:
    if row is None:
        return None
    return Opened(row, shown_version(row.version_id) if row.version_id else None)
