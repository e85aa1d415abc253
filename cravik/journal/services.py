"""Writing the journal: a visit begins, and climbs. It never falls."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import NamedTuple

import structlog
from django.db import DatabaseError, connection, transaction
from django.db.models import DateTimeField, F
from django.db.models.functions import Coalesce
from django.http import HttpRequest

from cravik.core.statistics.ladder import Rung
from cravik.journal.campaigns import campaign_in
from cravik.journal.models import Campaign, LateDay, LeftOut, NetworkMinute, Visit
from cravik.journal.visitors import Visitor, visitor_of, why_left_out
from cravik.upkeep.prepared import Param, PreparedSelect, PreparedUpdate, insert
from cravik.upkeep.queued_sqlite.patience import patience
from cravik.upkeep.queued_sqlite.power_cuts import outliving_no_power_cut

#: A page that is opened again within this time of the last sign of life belongs to the visit before.
SAME_VISIT = timedelta(minutes=30)
_TO_THE_MINUTE = timedelta(minutes=1)

#: So many new visits a minute are people's, from one network address: a school, a market, a firm behind one router.
MAX_NEW_VISITS = 120

#: Seconds that a page waits for its visit to be written.
_PATIENCE = 0.8

#: What happens to a visit of less than that ago happens before its day is summed.
_BEFORE_SUMS = timedelta(hours=23)

logger = structlog.stdlib.get_logger("cravik.journal")

_INSTANT_OF = {Rung.STARTED: "started_at", Rung.TRIED: "tried_at", Rung.PAID: "paid_at"}


class VisitedPage(NamedTuple):
    """Where a visitor meets a link, by plain ids."""

    business_id: int
    link_id: int
    spot_id: int
    version_id: int | None = None


class OpenedVisit(NamedTuple):
    """What became of somebody's coming: their visit, or None; ``left_out`` says why it was left out, if it was."""

    visit_id: int | None
    left_out: str = ""


def open_visit(met: VisitedPage, visitor: Visitor, now: datetime, campaign: str = "") -> OpenedVisit:
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
                    leave_out(met, LeftOut.Reason.CROWD, now)
                    return OpenedVisit(None, LeftOut.Reason.CROWD)
                by = _campaign_id(met.business_id, campaign) if campaign else None
                return OpenedVisit(_new_visit(met, visitor, Rung.OPENED, now, by).pk)
    visit_id, last_at = under_way
    if now - last_at > _TO_THE_MINUTE:
        _STILL_THERE.run(visit_id=visit_id, now=now)
    return OpenedVisit(visit_id)


def note_coming(request: HttpRequest, met: VisitedPage, now: datetime, *, is_own: bool) -> OpenedVisit:
    """The visit of whoever asks, or why they are left out. ``is_own`` is True for a member of the business.

    Neither, where it cannot be written within a moment: a page is shown all the same.
    """
    reason = LeftOut.Reason.OWN if is_own else why_left_out(request)
    if reason:
        return OpenedVisit(None, reason if _left_out(met, reason, now) else "")
    try:
        with patience(_PATIENCE), outliving_no_power_cut():
            return open_visit(met, visitor_of(request, now.date()), now, campaign_in(request.GET.dict().items()))
    except DatabaseError as trouble:
        logger.warning("a visit was not written", trouble=type(trouble).__name__)
        return OpenedVisit(None)


def note_rehearsal(met: VisitedPage, now: datetime) -> None:
    """Count that a rehearsal was opened, if that can be written within a moment."""
    _left_out(met, LeftOut.Reason.REHEARSAL, now)


def _left_out(met: VisitedPage, reason: LeftOut.Reason, now: datetime) -> bool:
    """Whether it could be written."""
    try:
        with patience(_PATIENCE), outliving_no_power_cut():
            leave_out(met, reason, now)
    except DatabaseError as trouble:
        logger.warning("what was left out was not written", trouble=type(trouble).__name__)
        return False
    return True


def count_paid_visit(
    met: VisitedPage, visitor: str, left_out: str, opened_at: datetime, now: datetime, code_id: int | None = None
) -> int:
    """The visit of somebody who had none and turns out to be a person, since they paid: it counts as paid. What was
    counted as ``left_out`` then is counted no more."""
    there = LeftOut.objects.filter(spot_id=met.spot_id, minute=_minute(opened_at), reason=left_out, visits__gt=0)
    if there.update(visits=F("visits") - 1):
        note_late(met.business_id, opened_at, now)
    return int(_new_visit(met, Visitor(visitor), Rung.PAID, now, code_id=code_id).pk)


def forget_networks(now: datetime) -> None:
    """Drop the counts of minutes that have passed."""
    NetworkMinute.objects.filter(minute__lt=_minute(now)).delete()


def _minute(instant: datetime) -> datetime:
    return instant.replace(second=0, microsecond=0)


def _is_crowded(network: str, now: datetime) -> bool:
    """Whether the network address has had its new visits of this minute; this one is counted."""
    minute = connection.ops.adapt_datetimefield_value(_minute(now))
    with connection.cursor() as cursor:
        cursor.execute(_ONE_MORE, (network, minute))
        return bool(cursor.fetchone()[0] > MAX_NEW_VISITS)


@transaction.atomic
def leave_out(met: VisitedPage, reason: LeftOut.Reason, now: datetime) -> None:
    """Count a coming that is no visit, by its reason."""
    row, is_new = LeftOut.objects.get_or_create(
        spot_id=met.spot_id,
        minute=_minute(now),
        reason=reason,
        defaults={"business_id": met.business_id, "link_id": met.link_id, "visits": 1},
    )
    if not is_new:
        LeftOut.objects.filter(id=row.pk).update(visits=F("visits") + 1)


def _visit_under_way(spot_id: int, visitor: str, now: datetime) -> tuple[int, datetime] | None:
    """The visit that is not over, with its last sign of life; none for who is not told apart."""
    found = _UNDER_WAY.first(spot_id=spot_id, visitor=visitor, since=now - SAME_VISIT) if visitor else None
    return (found[0], found[1]) if found else None


@transaction.atomic(savepoint=False)
def climb(visit_id: int, link_id: int, rung: Rung, now: datetime, code_id: int | None = None) -> bool:
    """Note that the visit reached ``rung``, and all below it; with the discount code, where it tried to pay with one.
    False of a payment whose visit is there no more, since a power cut took it: the caller counts it then.

    A visit that was paid is closed. Another payment on it, by somebody who looks like its visitor,
    is a visit of its own, so that payments and paid visits stay in step.
    """
    climbed = _CLIMBS[rung].changed(visit_id=visit_id, link_id=link_id, now=now, code_id=code_id)
    if climbed:
        business_id, opened_at = climbed
        note_late(business_id, opened_at, now)
    if climbed or rung != Rung.PAID:
        return True
    paid = Visit.objects.filter(id=visit_id, link_id=link_id).first()
    if paid:
        again = Visitor(paid.visitor, referrer=paid.referrer, device=paid.device)
        met = VisitedPage(paid.business_id, link_id, paid.spot_id, paid.version_id)
        _new_visit(met, again, rung, now, paid.campaign_id, code_id)
    return paid is not None


def note_late(business_id: int, opened_at: datetime, now: datetime) -> None:
    """Have the day of ``opened_at`` read anew, if it may have been summed."""
    if now - opened_at >= _BEFORE_SUMS:
        LateDay.objects.create(business_id=business_id, opened_at=opened_at)


def _campaign_id(business_id: int, query: str) -> int:
    return int(Campaign.objects.get_or_create(business_id=business_id, query=query)[0].pk)


def _new_visit(
    met: VisitedPage,
    visitor: Visitor,
    rung: Rung,
    now: datetime,
    campaign_id: int | None = None,
    code_id: int | None = None,
) -> Visit:
    reached = {name: now for each, name in _INSTANT_OF.items() if each <= rung}
    return insert(
        Visit(
            **met._asdict(),
            visitor=visitor.mark,
            referrer=visitor.referrer,
            device=visitor.device,
            campaign_id=campaign_id,
            code_id=code_id,
            rung=rung,
            opened_at=now,
            last_at=now,
            **reached,
        )
    )


def _climb_to(rung: Rung) -> PreparedUpdate:
    """Each instant of ``rung`` and those below it is set once."""
    now = Param("now", DateTimeField())
    return PreparedUpdate(
        lambda: Visit.objects.filter(id=Param("visit_id"), link_id=Param("link_id"), rung__lt=rung),
        back=("business_id", "opened_at"),
        rung=rung,
        last_at=now,
        **({"code_id": Param("code_id")} if rung >= Rung.TRIED else {}),
        **{name: Coalesce(F(name), now) for each, name in _INSTANT_OF.items() if each <= rung},
    )


#: One statement, since it stands on the way of every new visitor's page.
_ONE_MORE = (
    f"INSERT INTO {NetworkMinute._meta.db_table} (network, minute, visits) VALUES (%s, %s, 1)"  # noqa: S608
    " ON CONFLICT (network, minute) DO UPDATE SET visits = visits + 1 RETURNING visits"
)
_CLIMBS = {rung: _climb_to(rung) for rung in Rung}
_STILL_THERE = PreparedUpdate(lambda: Visit.objects.filter(id=Param("visit_id")), last_at=Param("now", DateTimeField()))
_UNDER_WAY = PreparedSelect(
    lambda: (
        Visit.objects.filter(
            spot_id=Param("spot_id"),
            visitor=Param("visitor"),
            last_at__gt=Param("since", DateTimeField()),
            rung__lt=Rung.PAID,
        )
        .order_by("-last_at")
        .values_list("id", "last_at")[:1]
    )
)
