"""Writing down what happened, in the transaction of the act."""

from __future__ import annotations

import json
from collections.abc import Iterable
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
    item_id: int | None = None
    setting: str = ""
    rehearsal: bool = False


_FIELDS = ["business", "kind", "at", "by", "by_name", "user", "rehearsal", "order_id", "link_id", "spot_id", "buyer_id"]
_FIELDS += ["item_id", "setting", "data"]


def write(what: Happening, about: About, at: datetime, by: Actor) -> None:
    write_all([(what, about, at, by)])


def write_all(events: Iterable[tuple[Happening, About, datetime, Actor]]) -> None:
    """Many at once, in that order. One statement, and a cheap one, since every payment writes two events."""
    insert_all(Event, _FIELDS, (_row(*each) for each in events))


def _row(what: Happening, about: About, at: datetime, by: Actor) -> tuple[object, ...]:
    """The values of the fields, as the database has them."""
    instant = connection.ops.adapt_datetimefield_value(at)
    who = (by.kind, by.name, by.user_id, about.rehearsal)
    whose = (about.order_id, about.link_id, about.spot_id, about.buyer_id, about.item_id, about.setting)
    kind, data = name_of(type(what)), json.dumps(write_data(what), ensure_ascii=False)
    return (about.business_id, kind, instant, *who, *whose, data)
