"""Whether a link can be bought, judged at an instant and by what is counted of it.

>>> from cravik.core.link.limits import Limits
>>> from cravik.core.pricing.money import Money
>>> from cravik.core.pricing.offer import simple_offer
>>> december = datetime.fromisoformat("2026-12-01T00:00:00+00:00")
>>> kite = simple_offer("Kite", Money(2400, "EUR"))
>>> until = LinkContent("Kite", kite, limits=Limits(closes_at=december, orders=40))
>>> why_closed(until, december, Counted(3))
'day'
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from typing import Literal

from cravik.core.link.content import LinkContent
from cravik.core.link.counted import Counted
from cravik.core.pricing.offer import Line

#: Why nothing can be bought: it is not open yet, its day has come, or its count was reached.
ClosedBy = Literal["not_open_yet", "day", "count"]


def why_closed(link: LinkContent, instant: datetime, counted: Counted) -> ClosedBy | None:
    """Why nothing can be bought at ``instant`` after what is ``counted``, or None where it can.

    The offer's own window and the limits both hold; a link that ends by day and by count ends at whichever is first.
    """
    if any(opens > instant for opens in _opening(link)):
        return "not_open_yet"
    closes = closes_at(link)
    if closes is not None and instant >= closes:
        return "day"
    return "count" if is_used_up(link, counted) else None


def is_used_up(link: LinkContent, counted: Counted) -> bool:
    """Whether no order can be made any more: as many as may be are counted, or too few pieces are left of what every
    order holds, or of each thing."""
    most = link.limits.orders
    if most is not None and counted.orders >= most:
        return True
    left = pieces_left(link, counted)

    def is_gone(line: Line) -> bool:
        return line.key in left and is_too_few(line, left[line.key])

    required = [line for line in link.offer.lines if not line.optional]
    return any(map(is_gone, required)) if required else all(map(is_gone, link.offer.lines))


def pieces_left(link: LinkContent, counted: Counted) -> dict[str, int]:
    """How many pieces are left of each line of which there are only so many."""
    return {line: max(0, most - counted.pieces_of(line)) for line, most in link.limits.pieces.items()}


def is_too_few(line: Line, left: int) -> bool:
    """Whether what is left of the line is less than an order takes of it."""
    return left < max(1, line.quantity.min)


def opens_at(link: LinkContent) -> datetime | None:
    """The first instant at which it can be bought, if that is bounded."""
    return max(_opening(link), default=None)


def closes_at(link: LinkContent) -> datetime | None:
    """The first instant at which it can be bought no more, if there is one."""
    window = link.offer.window
    closing = (link.limits.closes_at, window.closes_at if window else None)
    return min((each for each in closing if each is not None), default=None)


def _opening(link: LinkContent) -> Iterator[datetime]:
    window = link.offer.window
    for each in (link.limits.opens_at, window.opens_at if window else None):
        if each is not None:
            yield each
