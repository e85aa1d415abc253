"""When and how often a link can be bought, in words.

>>> from datetime import UTC, timedelta
>>> noon = datetime(2026, 11, 26, 12, tzinfo=UTC)
>>> limits_words(Limits(closes_at=noon, orders=40, orders_per_buyer=2))
'until 26 November 2026, 12:00 (UTC) or 40 sold, at most 2 a buyer'
>>> distance_words(noon, noon - timedelta(hours=35)), distance_words(noon, noon + timedelta(days=9))
('in 35 hours', '9 days ago')
"""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo

from cravik.core.english import counted, instant_words
from cravik.core.link.limits import Limits

_MINUTE, _HOUR, _DAY = 60, 3600, 86_400
#: Up to so many hours are told in hours.
_HOURS_TOLD = 48


def limits_words(limits: Limits, zone: str = "UTC") -> str:
    """From when, until when or how many, and how many a buyer may have; nothing where nothing is bounded."""
    until = [f"until {_instant(limits.closes_at, zone)}"] if limits.closes_at else []
    until += [f"{'' if until else 'until '}{limits.orders:,} sold"] if limits.orders else []
    words = [f"from {_instant(limits.opens_at, zone)}"] if limits.opens_at else []
    words += [" or ".join(until)] if until else []
    said = " ".join(words)
    if not limits.orders_per_buyer:
        return said
    return f"{said}{', ' if said else ''}at most {limits.orders_per_buyer:,} a buyer"


def distance_words(instant: datetime, now: datetime) -> str:
    """How far the instant is from now, such as ``in 35 hours`` or ``9 days ago``."""
    seconds = int((instant - now).total_seconds())
    size = abs(seconds)
    if size < _HOUR:
        words = counted(max(1, size // _MINUTE), "minute", "minutes")
    elif size < _HOURS_TOLD * _HOUR:
        words = counted(size // _HOUR, "hour", "hours")
    else:
        words = counted(size // _DAY, "day", "days")
    return f"in {words}" if seconds >= 0 else f"{words} ago"


def _instant(instant: datetime, zone: str) -> str:
    return instant_words(instant.astimezone(ZoneInfo(zone)))
