"""Whole days of a business, in its time zone: what every figure of a period is of."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from cravik.people.models import Business

#: How many days a period covers of which none is named.
USUAL_DAYS = 30
_FIRST_YEAR, _LAST_YEAR = 2000, 2200


@dataclass(frozen=True)
class Period:
    """Whole days of a time zone, both included."""

    first: date
    last: date
    time_zone: str
    #: Whether its last day has passed, so that it brings no more.
    is_over: bool = False

    @property
    def since(self) -> datetime:
        return datetime.combine(self.first, time(), ZoneInfo(self.time_zone))

    @property
    def until(self) -> datetime:
        """The first instant after it."""
        return datetime.combine(self.last + timedelta(days=1), time(), ZoneInfo(self.time_zone))

    @property
    def days(self) -> int:
        return (self.last - self.first).days + 1

    @property
    def before(self) -> Period:
        """As many days right before it."""
        return Period(
            self.first - timedelta(days=self.days), self.first - timedelta(days=1), self.time_zone, is_over=True
        )

    def day_of(self, seconds: int) -> date:
        """The day of an instant, given in seconds since 1970."""
        return datetime.fromtimestamp(seconds, ZoneInfo(self.time_zone)).date()


def day_in(text: str) -> date | None:
    """The day that is written so, such as ``2026-11-23``; None where it is none, or of no year that anything happened
    in."""
    try:
        day = date.fromisoformat(text)
    except ValueError:
        return None
    return day if _FIRST_YEAR <= day.year <= _LAST_YEAR else None


def period_of(business: Business, first: date | None, last: date | None, now: datetime) -> Period:
    """The days that are named; what is not, so that there are thirty, up to today in the seller's time zone."""
    today = now.astimezone(ZoneInfo(business.time_zone)).date()
    end = last or (today if first is None or first <= today else first)
    first = first or end - timedelta(days=USUAL_DAYS - 1)
    return Period(first, end, business.time_zone, is_over=end < today)


def usual_period(business: Business, now: datetime) -> Period:
    """The last thirty days, today included: what lists show."""
    return period_of(business, None, None, now)
