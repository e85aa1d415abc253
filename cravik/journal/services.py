"""Writing the journal: a visit begins, and climbs. It never falls."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction

from cravik.core.ladder import Rung
from cravik.journal.models import Visit

#: A page that is opened again within this time belongs to the visit before.
SAME_VISIT = timedelta(minutes=30)

_INSTANT_OF = {Rung.STARTED: "started_at", Rung.TRIED: "tried_at", Rung.PAID: "paid_at"}


def open_visit(business_id: int, link_id: int, visitor: str, now: datetime) -> int:
    """The id of the visitor's visit to the link: the one under way, or a new one."""
    # Looked for first without the write lock, which most reloads then never need.
    under_way = _visit_under_way(link_id, visitor, now)
    if under_way is None:
        with transaction.atomic():
            under_way = _visit_under_way(link_id, visitor, now)
            if under_way is None:
                under_way = _new_visit(business_id, link_id, visitor, Rung.OPENED, now).pk
    return under_way


def _visit_under_way(link_id: int, visitor: str, now: datetime) -> int | None:
    return (
        Visit.objects.filter(link_id=link_id, visitor=visitor, opened_at__gt=now - SAME_VISIT, rung__lt=Rung.PAID)
        .order_by("-opened_at")
        .values_list("id", flat=True)
        .first()
    )


@transaction.atomic
def climb(visit_id: int, link_id: int, rung: Rung, now: datetime) -> None:
    """Note that the visit reached ``rung``, and all below it.

    A visit that was paid is closed: somebody who looks like its visitor and gets as far as trying
    is a visit of their own, so that payments and paid visits stay in step.
    """
    visit = Visit.objects.filter(id=visit_id, link_id=link_id).first()
    if visit is None:
        return
    if visit.rung == Rung.PAID:
        if rung == Rung.PAID:
            _new_visit(visit.business_id, link_id, visit.visitor, rung, now)
        return
    if visit.rung >= rung:
        return
    _set_rung(visit, rung, now)
    visit.save()


def _new_visit(business_id: int, link_id: int, visitor: str, rung: Rung, now: datetime) -> Visit:
    visit = Visit(business_id=business_id, link_id=link_id, visitor=visitor, rung=Rung.OPENED, opened_at=now)
    _set_rung(visit, rung, now)
    visit.save()
    return visit


def _set_rung(visit: Visit, rung: Rung, now: datetime) -> None:
    visit.rung = max(visit.rung, rung)
    for reached, instant in _INSTANT_OF.items():
        if reached <= rung and getattr(visit, instant) is None:
            setattr(visit, instant, now)
