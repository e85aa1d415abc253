"""Which parts of a period are read from sums, and which from what was written down itself."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.db.models import DateTimeField

from cravik.journal.models import LateDay, SummedUntil
from cravik.journal.models.sums import SumKey
from cravik.setup.periods import Period
from cravik.upkeep.prepared import Param, PreparedSelect

_DAY = timedelta(days=1)


@dataclass(frozen=True)
class Parts:
    """The first days of whole months, stretches of days, both included, and stretches of instants, the end not."""

    months: tuple[date, ...]
    days: tuple[tuple[date, date], ...]
    instants: tuple[tuple[datetime, datetime], ...]

    @property
    def summed(self) -> Iterator[tuple[str, date, date]]:
        """Those that are read from sums, as grain and first and last day of a stretch; months that follow each other
        are one stretch."""
        stretch: list[date] = []
        for month in self.months:
            if stretch and month_after(stretch[-1]) != month:
                yield SumKey.Grain.MONTH, stretch[0], stretch[-1]
                stretch = []
            stretch.append(month)
        if stretch:
            yield SumKey.Grain.MONTH, stretch[0], stretch[-1]
        for first, last in self.days:
            yield SumKey.Grain.DAY, first, last


def parts_of(business_id: int, period: Period, *, by_day: bool = False) -> Parts:
    """Of the period: whole months that are summed, unless it is wanted ``by_day``, days that are, and all the rest."""
    until = summed_until(business_id, period.time_zone)
    if until is None or until <= period.first:
        return Parts((), (), ((period.since, period.until),))
    end = min(until, period.last + _DAY)
    late = sorted(day for day in late_days(business_id, period) if day < end)
    months = [] if by_day else list(_months(period.first, end, late))
    gaps = [(day, day + _DAY) for day in late] + [(month, month_after(month)) for month in months]
    raw = [(day, day) for day in late] + ([(end, period.last)] if end <= period.last else [])
    unsummed = [Period(first, last, period.time_zone) for first, last in raw]
    days = tuple(_between(period.first, end, sorted(gaps)))
    return Parts(tuple(months), days, tuple((each.since, each.until) for each in unsummed))


def summed_until(business_id: int, time_zone: str) -> date | None:
    """The first day that is not summed, in that time zone's days; None where nothing is."""
    found = _UNTIL.first(business_id=business_id, time_zone=time_zone)
    return found[0] if found else None


def late_days(business_id: int, period: Period) -> set[date]:
    """The days of the period whose visits changed after they may have been summed."""
    zone = ZoneInfo(period.time_zone)
    late = _LATE.rows(business_id=business_id, since=period.since, until=period.until)
    return {instant.astimezone(zone).date() for (instant,) in late}


def month_after(day: date) -> date:
    """The first day of the month after that of ``day``."""
    return (day.replace(day=1) + timedelta(days=31)).replace(day=1)


def _months(first: date, end: date, late: list[date]) -> Iterator[date]:
    """The first days of the months that lie wholly from ``first`` on and before ``end``, without a late day."""
    month = first if first.day == 1 else month_after(first)
    while (following := month_after(month)) <= end:
        if not any(month <= day < following for day in late):
            yield month
        month = following


def _between(first: date, end: date, gaps: list[tuple[date, date]]) -> Iterator[tuple[date, date]]:
    """Stretches of days, both included, that are left from ``first`` on and before ``end`` without the gaps."""
    for begins, ends in [*gaps, (end, end)]:
        if first < begins:
            yield first, begins - _DAY
        first = max(first, ends)


_UNTIL = PreparedSelect(
    lambda: SummedUntil.objects.filter(business_id=Param("business_id"), time_zone=Param("time_zone")).values_list(
        "day"
    )
)
_LATE = PreparedSelect(
    lambda: LateDay.objects.filter(
        business_id=Param("business_id"),
        opened_at__gte=Param("since", DateTimeField()),
        opened_at__lt=Param("until", DateTimeField()),
    ).values_list("opened_at")
)
