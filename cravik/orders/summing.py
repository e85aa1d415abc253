"""Keeping the sums of visits and money: each of a business's days once it has been over for a day, oldest first.

A day and how far the sums reach are written in one transaction, so whoever reads finds either. Everything may be done
again: what is written is what visits and the ledger say.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction
from django.db.models import Min

from cravik.journal.facets import COLUMNS
from cravik.journal.fields import FIELD_COLUMNS
from cravik.journal.models import FieldSum, LateDay, LeftOut, SummedUntil, Visit, VisitSum
from cravik.journal.models.sums import SumKey
from cravik.journal.parts import late_days, month_after
from cravik.journal.summing import DayOfVisits, read_day, sum_visits_of_month, write_visits
from cravik.orders.models import MoneySum
from cravik.orders.takings import read_takings, sum_takings_of_month, write_takings
from cravik.payments.models import Movement
from cravik.people.models import Business
from cravik.setup.periods import Period

_DAY = timedelta(days=1)


def sum_days(business: Business, now: datetime, most: int | None = None) -> int:
    """Sum the days that are over and not summed yet, at most so many, and those that changed since; says how many."""
    days = 0
    for day in _due_days(business, now):
        if days == most or not _sum_day(business, day, begins=days == 0):
            break
        days += 1
    return days + _sum_late(business)


def forget_sums(business: Business) -> None:
    """Have everything read from the visits themselves, until it is summed anew."""
    SummedUntil.objects.filter(business_id=business.pk).update(day=None)


def _due_days(business: Business, now: datetime) -> Iterator[date]:
    zone = ZoneInfo(business.time_zone)
    # What is late may be a day late; see ``journal.services``.
    end = (now - _DAY).astimezone(zone).date()
    state = SummedUntil.objects.filter(business_id=business.pk).first()
    goes_on = state is not None and state.time_zone == business.time_zone
    day = state.day if state and goes_on and state.day else _first_day(business, zone)
    while day is not None and day < end:
        yield day
        day += _DAY


def _first_day(business: Business, zone: ZoneInfo) -> date | None:
    """The first day of which there is anything."""
    firsts = (
        Visit.objects.filter(business_id=business.pk).aggregate(at=Min("opened_at"))["at"],
        LeftOut.objects.filter(business_id=business.pk).aggregate(at=Min("minute"))["at"],
        Movement.objects.filter(business=business, rehearsal=False).aggregate(at=Min("at"))["at"],
    )
    return min((instant.astimezone(zone).date() for instant in firsts if instant), default=None)


def _sum_day(business: Business, day: date, *, begins: bool) -> bool:
    """Whether the day was summed: not where somebody else went on, or began anew, meanwhile."""
    read = _read(business, day)
    with transaction.atomic():
        state = SummedUntil.objects.filter(business_id=business.pk).first()
        until = state.day if state and state.time_zone == business.time_zone else None
        if until != day and not (begins and until is None):
            return False
        _write(business, read)
        following = day + _DAY
        if following.day == 1:
            _sum_month(business, day.replace(day=1))
        SummedUntil.objects.update_or_create(
            business_id=business.pk, defaults={"time_zone": business.time_zone, "day": following}
        )
    return True


@dataclass(frozen=True)
class _Day:
    """What there was of a day when it was read, and which rows said until then that it is late."""

    day: date
    late: list[int]
    visits: DayOfVisits
    takings: list[tuple[Any, ...]]


def _read(business: Business, day: date) -> _Day:
    """Reading takes longest, and is done before the write lock is taken. What happens to the day meanwhile leaves a
    ``LateDay`` that is not among those seen here, so it stays late."""
    period = Period(day, day, business.time_zone)
    late = LateDay.objects.filter(business_id=business.pk, opened_at__gte=period.since, opened_at__lt=period.until)
    seen = list(late.values_list("id", flat=True))
    return _Day(day, seen, read_day(business.pk, period), read_takings(business.pk, period))


def _write(business: Business, read: _Day) -> None:
    write_visits(business.pk, read.day, read.visits)
    write_takings(business.pk, read.day, read.takings)
    LateDay.objects.filter(id__in=read.late).delete()


def _sum_month(business: Business, month: date) -> None:
    sum_visits_of_month(business.pk, month)
    sum_takings_of_month(business.pk, month)


def _sum_late(business: Business) -> int:
    """Sum again the summed days to whose visits something happened since."""
    zone = ZoneInfo(business.time_zone)
    late = LateDay.objects.filter(business_id=business.pk).values_list("opened_at", flat=True)
    days = sorted({instant.astimezone(zone).date() for instant in late})
    for day in days:
        _sum_late_day(business, day)
    return len(days)


def _sum_late_day(business: Business, day: date) -> None:
    state = SummedUntil.objects.filter(business_id=business.pk, time_zone=business.time_zone).first()
    if state is None or state.day is None or day >= state.day:
        return  # it is read as it is, and will be summed when its time has come
    read = _read(business, day)
    with transaction.atomic():
        if LateDay.objects.filter(id__in=read.late).count() < len(read.late):
            return  # somebody else has read it since
        _write(business, read)
        if month_after(day) <= state.day:
            _sum_month(business, day.replace(day=1))


def differences(business: Business) -> Iterator[date]:
    """The summed days whose sums are not what visits and ledger say; writes nothing."""
    state = SummedUntil.objects.filter(business_id=business.pk, time_zone=business.time_zone).first()
    day = _first_day(business, ZoneInfo(business.time_zone))
    late = late_days(business.pk, Period(day, state.day, business.time_zone)) if state and state.day and day else set()
    while state and state.day and day and day < state.day:
        if day not in late and _kept(business, day) != _made_anew(business, day):
            yield day
        day += _DAY


def _kept(business: Business, day: date) -> list[list[tuple[object, ...]]]:
    of = {"business_id": business.pk, "grain": SumKey.Grain.DAY, "day": day}
    visits = VisitSum.objects.filter(**of).order_by("link_id", "facet", "value")
    money = MoneySum.objects.filter(**of).order_by("link_id", "facet", "value", "currency")
    fields = FieldSum.objects.filter(**of).order_by("link_id", "value")
    return [
        list(visits.values_list("link_id", "facet", "value", *COLUMNS)),
        list(fields.values_list("link_id", "value", *FIELD_COLUMNS)),
        list(money.values_list("link_id", "facet", "value", "currency", "minor")),
    ]


def _made_anew(business: Business, day: date) -> list[list[tuple[object, ...]]]:
    with transaction.atomic():
        _write(business, _read(business, day))
        made = _kept(business, day)
        transaction.set_rollback(True)
    return made
