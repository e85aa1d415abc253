"""When and how often a link can be bought, in words.

>>> from datetime import UTC, timedelta
>>> noon = datetime(2026, 11, 26, 12, tzinfo=UTC)
>>> limits_words(Limits(closes_at=noon, orders=40, orders_per_buyer=2))
'until 26 Nov 2026, 12:00 (UTC) or 40 orders, at most 2 orders a buyer'
>>> seat = PartialLine("seat", "Workshop seat")
>>> limits_words(Limits(pieces={"seat": 12}, pieces_per_buyer={"seat": 4}), [seat])
'12 seats, at most 4 seats a buyer'
>>> distance_words(noon, noon - timedelta(hours=35)), distance_words(noon, noon + timedelta(days=9))
('in 35 hours', '9 days ago')
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from datetime import datetime
from zoneinfo import ZoneInfo

from cravik.core.english import counted, instant_words, listed
from cravik.core.link.limits import CountWord, Limits
from cravik.core.pricing.partial_offer import PartialLine
from cravik.core.text.pieces_words import in_all_words, pieces_words, word_of

_MINUTE, _HOUR, _DAY = 60, 3600, 86_400
#: Up to so many hours are told in hours.
_HOURS_TOLD = 48


def limits_words(limits: Limits, lines: Sequence[PartialLine] = (), zone: str = "UTC") -> str:
    """From when, until when or how many, and how many a buyer may have; nothing where nothing is bounded.

    ``lines`` are what is sold: pieces of each are counted in its own word.
    """
    return ", ".join(_clauses(limits, lines, zone))


def _clauses(limits: Limits, lines: Sequence[PartialLine], zone: str) -> Iterator[str]:
    until = [f"until {_instant(limits.closes_at, zone)}"] if limits.closes_at else []
    until += [f"{'' if until else 'up to '}{counted(limits.orders, 'order', 'orders')}"] if limits.orders else []
    when = [f"from {_instant(limits.opens_at, zone)}"] if limits.opens_at else []
    when += [" or ".join(until)] if until else []
    if when:
        yield " ".join(when)

    def each(bounded: dict[str, int], words: Callable[[int, CountWord], str]) -> str:
        there = [line for line in lines if line.key in bounded]
        return listed(
            [
                words(bounded[line.key], word_of(line, limits)) + (f" for {line.name}" if len(lines) > 1 else "")
                for line in there
            ],
            "and",
        )

    if text := each(dict(limits.pieces), in_all_words):
        yield text
    if limits.orders_per_buyer:
        yield f"at most {counted(limits.orders_per_buyer, 'order', 'orders')} a buyer"
    if text := each(dict(limits.pieces_per_buyer), lambda number, word: f"{pieces_words(number, word)} a buyer"):
        yield f"at most {text}"


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
