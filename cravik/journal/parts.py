"""Which parts of a period are read from sums, and which from what was written down itself."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.db.models import Q

from cravik.journal.models import LateDay, SummedUntil
from cravik.journal.models.sums import SumKey
from cravik.setup.periods import Period

_DAY = timedelta(days=1)


@dataclass(frozen=True)
class Parts:
    """The first days of whole months, stretches of days, both included, and stretches of instants, the end not."""

    months: tuple[date, ...]
    days: tuple[tuple[date, date], ...]
    instants: tuple[tuple[datetime, datetime], ...]

    @property
    def summed(self) -> Q:
        """Those of the sums that stand for months and days; of none, nothing."""
        wanted = Q(grain=SumKey.Grain.MONTH, day__in=self.months) if self.months else Q(pk__in=())
        for first, last in self.days:
            wanted |= Q(grain=SumKey.Grain.DAY, day__gte=first, day__lte=last)
        return wanted


def parts_of(business_id: int, period: Period, *, by_day: bool = False) -> Parts:
    """Of the period: whole months that are summed, unless it is wanted ``by_day``, days that are, and all the rest."""
    until = summed_until(business_id, period.time_zone)
    if until is None or until <= period.first:
        return Parts((), (), ((period.since, period.until),))
    late = late_days(business_id, period)
    months: list[date] = []
    days: list[date] = []
    raw: list[date] = []
    day = period.first
    while day <= period.last:
        following = month_after(day)
        whole = day.day == 1 and not by_day and following - _DAY <= period.last and following <= until
        if whole and not any(day <= each < following for each in late):
            months.append(day)
            day = following
            continue
        (raw if day >= until or day in late else days).append(day)
        day += _DAY
    unsummed = [Period(first, last, period.time_zone) for first, last in _stretches(raw)]
    return Parts(tuple(months), tuple(_stretches(days)), tuple((each.since, each.until) for each in unsummed))


def summed_until(business_id: int, time_zone: str) -> date | None:
    """The first day that is not summed, in that time zone's days; None where nothing is."""
    state = SummedUntil.objects.filter(business_id=business_id, time_zone=time_zone).first()
    return state.day if state else None


def late_days(business_id: int, period: Period) -> set[date]:
    """The days of the period whose visits changed after they may have been summed."""
    zone = ZoneInfo(period.time_zone)
    late = LateDay.objects.filter(business_id=business_id, opened_at__gte=period.since, opened_at__lt=period.until)
    return {instant.astimezone(zone).date() for instant in late.values_list("opened_at", flat=True)}


def month_after(day: date) -> date:
    """The first day of the month after that of ``day``."""
    return (day.replace(day=1) + timedelta(days=31)).replace(day=1)


def _stretches(days: list[date]) -> Iterator[tuple[date, date]]:
    """Days in order as stretches without a gap."""
    start = 0
    for place, day in enumerate(days):
        if place + 1 == len(days) or days[place + 1] != day + _DAY:
            yield days[start], day
            start = place + 1
