"""Writing down what happened, in the transaction of the act."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime

from django.db import connection

from cravik.events.kinds import Happening, name_of, write_data
from cravik.events.models import Event
from cravik.people.actors import Actor
from cravik.upkeep.prepared import insert_all


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


_FIELDS = ["business", "kind", "at", "by", "by_name", "user", "rehearsal", "order_id", "link_id", "spot_id", "buyer_id"]
_FIELDS += ["setting", "data"]


def write(what: Happening, about: About, at: datetime, by: Actor) -> None:
    """By one statement that is cheap, since every payment writes two."""
    whose = (about.order_id, about.link_id, about.spot_id, about.buyer_id, about.setting)
    instant = connection.ops.adapt_datetimefield_value(at)
    who = (by.kind, by.name, by.user_id, about.rehearsal)
    kind, data = name_of(type(what)), json.dumps(write_data(what), ensure_ascii=False)
    insert_all(Event, _FIELDS, [(about.business_id, kind, instant, *who, *whose, data)])


def event(what: Happening, about: About, at: datetime, by: Actor) -> Event:
    """The same as a row, for many that are saved at once."""
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
