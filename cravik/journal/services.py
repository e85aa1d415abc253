"""Writing the journal: a visit begins, and climbs. It never falls."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import NamedTuple

import structlog
from django.db import DatabaseError, transaction
from django.db.models import DateTimeField, F
from django.db.models.functions import Coalesce
from django.http import HttpRequest

from cravik.core.statistics.ladder import Rung
from cravik.journal.models import Visit
from cravik.journal.visitors import visitor_mark
from cravik.upkeep.prepared import Param, PreparedSelect, PreparedUpdate, insert
from cravik.upkeep.queued_sqlite.patience import patience

#: A page that is opened again within this time belongs to the visit before.
SAME_VISIT = timedelta(minutes=30)

#: Seconds that a page waits for its visit to be written.
_PATIENCE = 0.8

logger = structlog.stdlib.get_logger("cravik.journal")

_INSTANT_OF = {Rung.STARTED: "started_at", Rung.TRIED: "tried_at", Rung.PAID: "paid_at"}


class Met(NamedTuple):
    """Where a visitor meets a link, by plain ids."""

    business_id: int
    link_id: int
    spot_id: int


def open_visit(met: Met, visitor: str, now: datetime) -> int:
    """The id of the visitor's visit to the spot: the one under way, or a new one."""
    # Looked for first without the write lock, which most reloads then never need.
    under_way = _visit_under_way(met.spot_id, visitor, now)
    if under_way is None:
        with transaction.atomic():
            under_way = _visit_under_way(met.spot_id, visitor, now)
            if under_way is None:
                under_way = _new_visit(met, visitor, Rung.OPENED, now).pk
    return under_way


def try_to_open_visit(request: HttpRequest, met: Met, now: datetime) -> int | None:
    """The id of the visit, or None where it cannot be written within a moment: a page is shown all the same."""
    try:
        with patience(_PATIENCE):
            return open_visit(met, visitor_mark(request, now.date()), now)
    except DatabaseError as trouble:
        logger.warning("a visit was not written", trouble=type(trouble).__name__)
        return None


def _visit_under_way(spot_id: int, visitor: str, now: datetime) -> int | None:
    found = _UNDER_WAY.first(spot_id=spot_id, visitor=visitor, since=now - SAME_VISIT)
    return found[0] if found else None


@transaction.atomic(savepoint=False)
def climb(visit_id: int, link_id: int, rung: Rung, now: datetime) -> None:
    """Note that the visit reached ``rung``, and all below it.

    A visit that was paid is closed. Another payment on it, by somebody who looks like its visitor,
    is a visit of its own, so that payments and paid visits stay in step.
    """
    climbed = _CLIMBS[rung].run(visit_id=visit_id, link_id=link_id, now=now)
    if climbed or rung != Rung.PAID:
        return
    if paid := Visit.objects.filter(id=visit_id, link_id=link_id).first():
        _new_visit(Met(paid.business_id, link_id, paid.spot_id), paid.visitor, rung, now)


def _new_visit(met: Met, visitor: str, rung: Rung, now: datetime) -> Visit:
    reached = {name: now for each, name in _INSTANT_OF.items() if each <= rung}
    return insert(Visit(**met._asdict(), visitor=visitor, rung=rung, opened_at=now, **reached))


def _climb_to(rung: Rung) -> PreparedUpdate:
    """Each instant of ``rung`` and those below it is set once."""
    now = Param("now", DateTimeField())
    return PreparedUpdate(
        lambda: Visit.objects.filter(id=Param("visit_id"), link_id=Param("link_id"), rung__lt=rung),
        rung=rung,
        **{name: Coalesce(F(name), now) for each, name in _INSTANT_OF.items() if each <= rung},
    )


_CLIMBS = {rung: _climb_to(rung) for rung in Rung}
_UNDER_WAY = PreparedSelect(
    lambda: (
        Visit.objects.filter(
            spot_id=Param("spot_id"),
            visitor=Param("visitor"),
            opened_at__gt=Param("since", DateTimeField()),
            rung__lt=Rung.PAID,
        )
        .order_by("-opened_at")
        .values_list("id")[:1]
    )
)
