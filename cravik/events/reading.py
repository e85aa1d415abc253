"""What happened, read: of one order, of one link, or all of it from some point on."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from django.db.models import QuerySet

from cravik.events.kinds import Happening, read_data
from cravik.events.models import Event

#: So many are read from the table at a time.
_AT_ONCE = 500


@dataclass(frozen=True)
class Happened:
    """An event as it is read; ``position`` is where to go on from."""

    position: int
    what: Happening
    at: datetime
    by: str
    by_name: str
    order_id: int | None
    link_id: int | None
    spot_id: int | None
    item_id: int | None
    setting: str
    rehearsal: bool

    @property
    def words(self) -> str:
        return self.what.words()

    @property
    def who(self) -> str:
        """Who did it, for a timeline; nothing where the words say so."""
        return {"member": self.by_name, "buyer": "", "clock": "by itself", "command": f"bin/cravik {self.by_name}"}[
            self.by
        ]


def events_of_order(order_id: int) -> list[Happened]:
    """Oldest first."""
    return list(_read(Event.objects.filter(order_id=order_id).order_by("id")))


def events_of_link(
    link_id: int, *, since: datetime | None = None, until: datetime | None = None, most: int | None = None
) -> list[Happened]:
    """What was done to the link and its spots, its orders aside: the newest first, ``most`` of them."""
    found = Event.objects.filter(link_id=link_id, order_id__isnull=True)
    found = found.filter(at__gte=since) if since else found
    found = found.filter(at__lt=until) if until else found
    return list(_read(found.order_by("-at", "-id")[:most]))


def events_after(position: int, business_id: int | None = None) -> Iterator[Happened]:
    """Every event that was written after that position, in the order in which they were written, each once.

    Begin with 0; go on from the last one's ``position``. What is written meanwhile comes too.
    """
    while True:
        found = Event.objects.filter(id__gt=position).order_by("id")
        found = found.filter(business=business_id) if business_id is not None else found
        rows = list(found[:_AT_ONCE])
        if not rows:
            return
        yield from _read(rows)
        position = rows[-1].pk


def _read(rows: QuerySet[Event] | list[Event]) -> Iterator[Happened]:
    """Those of the kinds that this version knows."""
    for row in rows:
        if what := read_data(row.kind, row.data):
            yield Happened(
                row.pk,
                what,
                row.at,
                row.by,
                row.by_name,
                row.order_id,
                row.link_id,
                row.spot_id,
                row.item_id,
                row.setting,
                row.rehearsal,
            )
