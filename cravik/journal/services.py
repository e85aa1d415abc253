"""Writing the journal: a visit begins, and climbs. It never falls."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import NamedTuple

import structlog
from django.db import DatabaseError, transaction
from django.db.models import DateTimeField, F, QuerySet
from django.db.models.functions import Coalesce
from django.http import HttpRequest

from cravik.core.statistics.ladder import Rung
from cravik.journal.campaigns import campaign_in
from cravik.journal.models import Campaign, LeftOut, NetworkMinute, Visit
from cravik.journal.visitors import Visitor, visitor_of
from cravik.upkeep.prepared import Param, PreparedSelect, PreparedUpdate, insert
from cravik.upkeep.queued_sqlite.patience import patience

#: A page that is opened again within this time belongs to the visit before.
SAME_VISIT = timedelta(minutes=30)

#: So many new visits a minute are people's, from one network address: a school, a market, a firm behind one router.
MAX_NEW_VISITS = 120

#: Seconds that a page waits for its visit to be written.
_PATIENCE = 0.8

logger = structlog.stdlib.get_logger("cravik.journal")

_INSTANT_OF = {Rung.STARTED: "started_at", Rung.TRIED: "tried_at", Rung.PAID: "paid_at"}


class Met(NamedTuple):
    """Where a visitor meets a link, by plain ids."""

    business_id: int
    link_id: int
    spot_id: int


class Visited(NamedTuple):
    """What became of somebody's coming: their visit, or None; ``crowded`` where it was left out because of too many."""

    visit_id: int | None
    crowded: bool = False


def open_visit(met: Met, visitor: Visitor, now: datetime, campaign: str = "") -> Visited:
    """The visitor's visit to the spot: the one under way, or a new one, unless too many come from their network.

    A new one keeps the ``campaign`` that brought it, as ``campaign_in`` writes it.
    """
    # Looked for first without the write lock, which most reloads then never need.
    under_way = _visit_under_way(met.spot_id, visitor.mark, now)
    if under_way is None:
        with transaction.atomic():
            under_way = _visit_under_way(met.spot_id, visitor.mark, now)
            if under_way is None:
                if _is_crowded(visitor.network, now):
                    _leave_out(met, now)
                    return Visited(None, crowded=True)
                by = _campaign_id(met.business_id, campaign) if campaign else None
                under_way = _new_visit(met, visitor.mark, Rung.OPENED, now, by).pk
    return Visited(under_way)


def try_to_open_visit(request: HttpRequest, met: Met, now: datetime) -> Visited:
    """The same for whoever asks, and none where it cannot be written within a moment: a page is shown all the same."""
    try:
        with patience(_PATIENCE):
            return open_visit(met, visitor_of(request, now.date()), now, campaign_in(request.GET.dict().items()))
    except DatabaseError as trouble:
        logger.warning("a visit was not written", trouble=type(trouble).__name__)
        return Visited(None)


def count_after_all(met: Met, visitor: str, opened_at: datetime, now: datetime) -> int:
    """The visit of somebody who was left out as one too many, and turns out to be a person: they pay."""
    there = LeftOut.objects.filter(spot_id=met.spot_id, minute=_minute(opened_at), visits__gt=0)
    there.update(visits=F("visits") - 1)
    return int(_new_visit(met, visitor, Rung.STARTED, now).pk)


def forget_networks(now: datetime) -> None:
    """Drop the counts of minutes that have passed."""
    NetworkMinute.objects.filter(minute__lt=_minute(now)).delete()


def _minute(instant: datetime) -> datetime:
    return instant.replace(second=0, microsecond=0)


def _is_crowded(network: str, now: datetime) -> bool:
    """Whether the network address has had its new visits of this minute; this one is counted."""
    minute = _minute(now)
    if not _ONE_MORE.run(network=network, minute=minute):
        insert(NetworkMinute(network=network, minute=minute, visits=1))
        return False
    return bool(_VISITS.rows(network=network, minute=minute)[0][0] > MAX_NEW_VISITS)


def _leave_out(met: Met, now: datetime) -> None:
    row, is_new = LeftOut.objects.get_or_create(
        spot_id=met.spot_id,
        minute=_minute(now),
        reason=LeftOut.Reason.CROWD,
        defaults={"business_id": met.business_id, "link_id": met.link_id, "visits": 1},
    )
    if not is_new:
        LeftOut.objects.filter(id=row.pk).update(visits=F("visits") + 1)


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
        _new_visit(Met(paid.business_id, link_id, paid.spot_id), paid.visitor, rung, now, paid.campaign_id)


def _campaign_id(business_id: int, query: str) -> int:
    return int(Campaign.objects.get_or_create(business_id=business_id, query=query)[0].pk)


def _new_visit(met: Met, visitor: str, rung: Rung, now: datetime, campaign_id: int | None = None) -> Visit:
    reached = {name: now for each, name in _INSTANT_OF.items() if each <= rung}
    return insert(Visit(**met._asdict(), visitor=visitor, campaign_id=campaign_id, rung=rung, opened_at=now, **reached))


def _climb_to(rung: Rung) -> PreparedUpdate:
    """Each instant of ``rung`` and those below it is set once."""
    now = Param("now", DateTimeField())
    return PreparedUpdate(
        lambda: Visit.objects.filter(id=Param("visit_id"), link_id=Param("link_id"), rung__lt=rung),
        rung=rung,
        **{name: Coalesce(F(name), now) for each, name in _INSTANT_OF.items() if each <= rung},
    )


def _networks() -> QuerySet[NetworkMinute]:
    return NetworkMinute.objects.filter(network=Param("network"), minute=Param("minute", DateTimeField()))


_ONE_MORE = PreparedUpdate(_networks, visits=F("visits") + 1)
_VISITS = PreparedSelect(lambda: _networks().values_list("visits"))
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
