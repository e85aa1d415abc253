"""When and how often a link can be bought, judged at an instant.

>>> december = datetime.fromisoformat("2026-12-01T00:00:00+00:00")
>>> until = Limits(closes_at=december, orders=40)
>>> why_closed(until, None, december, 3)
'day'
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from cravik.core.pricing.offer import Window

#: Why nothing can be bought: it is not open yet, its day has come, or its count was reached.
ClosedBy = Literal["not_open_yet", "day", "count"]


@dataclass(frozen=True, slots=True)
class Limits:
    """From ``opens_at`` and before ``closes_at``; at most so many ``orders``, and so many of one buyer."""

    opens_at: datetime | None = None
    closes_at: datetime | None = None
    orders: int | None = None
    orders_per_buyer: int | None = None


NO_LIMITS = Limits()


@dataclass(frozen=True, slots=True)
class CodeRule:
    """How often a discount code can be used on its link: in all, and by one buyer. None: without a limit."""

    uses: int | None = None
    uses_per_buyer: int | None = None


def why_closed(limits: Limits, window: Window | None, instant: datetime, orders: int) -> ClosedBy | None:
    """Why nothing can be bought at ``instant`` after so many ``orders``, or None where it can.

    The offer's own window and the limits both hold; a link that ends by day and by count ends at whichever is first.
    """
    if any(opens > instant for opens in _opening(limits, window)):
        return "not_open_yet"
    closes = closes_at(limits, window)
    if closes is not None and instant >= closes:
        return "day"
    return "count" if limits.orders is not None and orders >= limits.orders else None


def opens_at(limits: Limits, window: Window | None) -> datetime | None:
    """The first instant at which it can be bought, if that is bounded."""
    return max(_opening(limits, window), default=None)


def closes_at(limits: Limits, window: Window | None) -> datetime | None:
    """The first instant at which it can be bought no more, if there is one."""
    closing = (limits.closes_at, window.closes_at if window else None)
    return min((each for each in closing if each is not None), default=None)


def _opening(limits: Limits, window: Window | None) -> Iterator[datetime]:
    for each in (limits.opens_at, window.opens_at if window else None):
        if each is not None:
            yield each
