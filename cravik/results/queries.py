"""What the home page says of each link."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from cravik.core.ladder import Ladder
from cravik.core.money import Money
from cravik.core.offer import Offer
from cravik.core.rates import Rate, conversion
from cravik.journal.queries import ladders_by_link
from cravik.links.models import Link
from cravik.orders.queries import last_paid_by_link, money_by_link
from cravik.setup.models import Business

#: The stretch of time that a link's row speaks of.
ROW_PERIOD = timedelta(days=30)


@dataclass(frozen=True)
class LinkRow:
    """A link, its ladder and rate, what it took in the last 30 days, and when it was last paid."""

    link: Link
    offer: Offer
    ladder: Ladder
    rate: Rate
    money: list[Money]
    last_paid_at: datetime | None


def link_rows(business: Business, links: list[Link], now: datetime) -> list[LinkRow]:
    """A row for each of ``links``, in their order."""
    since = now - ROW_PERIOD
    ladders = ladders_by_link(business.pk, since, now)
    money = money_by_link(business, since, now)
    last_paid = last_paid_by_link([link.pk for link in links])
    rows = []
    for link in links:
        ladder = ladders.get(link.pk, Ladder())
        rows.append(
            LinkRow(
                link=link,
                offer=link.offer,
                ladder=ladder,
                rate=conversion(ladder.paid, ladder.opened),
                money=money.get(link.pk, []),
                last_paid_at=last_paid.get(link.pk),
            )
        )
    return rows
