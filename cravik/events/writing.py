"""Writing down what happened, in the transaction of the act."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.events.kinds import Happening, name_of, write_data
from cravik.events.models import Event
from cravik.people.actors import Actor
from cravik.upkeep.prepared import insert


@dataclass(frozen=True)
class About:
    """What an event is about: of a business, and at least one of the others."""

    business_id: int
    order_id: int | None = None
    link_id: int | None = None
    spot_id: int | None = None
    buyer_id: int | None = None
    setting: str = ""
    rehearsal: bool = False


def write(what: Happening, about: About, at: datetime, by: Actor) -> Event:
    return insert(event(what, about, at, by))


def event(what: Happening, about: About, at: datetime, by: Actor) -> Event:
    """The same, not saved yet."""
    return Event(
        business_id=about.business_id,
        kind=name_of(type(what)),
        at=at,
        by=by.kind,
        by_name=by.name,
        user_id=by.user_id,
        rehearsal=about.rehearsal,
        order_id=about.order_id,
        link_id=about.link_id,
        spot_id=about.spot_id,
        buyer_id=about.buyer_id,
        setting=about.setting,
        data=write_data(what),
    )
