"""From buying what of an order its buyer can withdraw, and until when."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import Enum
from zoneinfo import ZoneInfo

from cravik.core.link.withdrawal import DAYS_ON_THE_WAY, Exemption, gives_right, last_day
from cravik.core.text.withdrawal_words import WHY
from cravik.links.life.shown_version import shown_version
from cravik.orders.models import Order, Stage, Wish


class RightState(Enum):
    OPEN = "open"
    EXEMPT = "exempt"
    OVER = "over"
    USED = "used"


@dataclass(frozen=True)
class LineRight:
    """The right of one line. ``until`` is its last day, where that is known: of what is not sent yet it is not."""

    key: str
    name: str
    state: RightState
    until: date | None = None
    why: str = ""

    @property
    def is_open(self) -> bool:
        return self.state == RightState.OPEN


def rights_of(order: Order, now: datetime) -> list[LineRight]:
    """Of each line of an order that came with its checkout's lines, parcels and wishes; none where its seller owes no
    such right, where a business bought, or where nothing that was paid is left with the seller."""
    where = order.checkout.where
    is_business = bool(where.get("tax_number") or where.get("company"))
    if not gives_right(order.business.country) or is_business or order.taken_minor <= 0:
        return []
    return list(_rights(order, now))


def _rights(order: Order, now: datetime) -> Iterator[LineRight]:
    zone = ZoneInfo(order.business.time_zone)
    today = now.astimezone(zone).date()
    content = shown_version(order.version_id).content
    offered = {line.key: line for line in content.offer.lines}
    used = {line["key"] for wish in order.wishes.all() if wish.kind == Wish.Kind.WITHDRAWAL for line in wish.lines}
    for line in order.checkout.line.quote_document["lines"]:
        key, name = line["key"], line["name"]
        why = _exemption(order, content.no_withdrawal.get(key))
        begins = _begins(order, ships=key in offered and offered[key].ships)
        until = last_day(begins.astimezone(zone).date()) if begins else None
        if why:
            if why != "gift":
                yield LineRight(key, name, RightState.EXEMPT, why=WHY[why])
        elif key in used:
            yield LineRight(key, name, RightState.USED)
        else:
            yield LineRight(key, name, RightState.OVER if until and until < today else RightState.OPEN, until)


def _exemption(order: Order, why: Exemption | None) -> Exemption | None:
    """Who did not say that they want it at once keeps the right."""
    said = order.checkout.typed.get("at_once") == "yes"
    return None if why == "at_once" and not said else why


def _begins(order: Order, *, ships: bool) -> datetime | None:
    """When the period begins: with the contract, or for what is sent when it is received, which is supposed to be by
    ``DAYS_ON_THE_WAY``; None as long as it is to be sent."""
    if not ships:
        return order.made_at
    sent = max((parcel.sent_at for parcel in order.parcels.all()), default=None)
    if sent is None and order.stage == Stage.TO_DO:
        return None
    return (sent or order.made_at) + timedelta(days=DAYS_ON_THE_WAY)
