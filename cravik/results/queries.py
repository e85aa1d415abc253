"""What the home page says of each link."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.catalogue.queries import thumbnails
from cravik.core.pricing.money import Money
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import Rate, conversion
from cravik.core.text.pieces_words import sold_words
from cravik.core.text.price_words import price_in_words
from cravik.journal.queries import ladders_by_link
from cravik.links.life.counting import pieces_paid
from cravik.links.life.shown_version import shown_to_buyers, shown_versions
from cravik.links.models import Link
from cravik.links.waiting.waiters import waiting_by_link
from cravik.orders.queries import last_paid_by_link
from cravik.orders.takings import money_by_link
from cravik.people.models import Business
from cravik.setup.periods import usual_period


@dataclass(frozen=True)
class LinkRow:
    """A link, what it costs in words, its ladder and rate, what it took in 30 days, and when it was last paid."""

    link: Link
    title: str
    price: str
    ladder: Ladder
    rate: Rate
    money: list[Money]
    last_paid_at: datetime | None
    #: How many people wait to hear that it can be bought.
    waiting: int
    #: The address of a small picture of what it sells, if there is one.
    thumbnail: str
    #: How many are sold of each thing of which there are only so many, in words.
    sold: tuple[str, ...]


def link_rows(business: Business, links: list[Link], now: datetime) -> list[LinkRow]:
    """A row for each of ``links``, in their order."""
    period = usual_period(business, now)
    ladders = ladders_by_link(business.pk, period)
    money = money_by_link(business.pk, period)
    ids = [link.pk for link in links]
    last_paid, waiting = last_paid_by_link(business, ids), waiting_by_link(ids)
    published = shown_versions(link.version_id for link in links if link.version_id)
    pieces = pieces_paid([version.link_id for version in published.values() if version.content.limits.pieces])
    sold = {item for version in published.values() for item in version.items.values()}
    small = thumbnails(sold)
    rows = []
    for link in links:
        ladder = ladders.get(link.pk, Ladder())
        shown = shown_to_buyers(link)
        rows.append(
            LinkRow(
                link=link,
                title=shown.offer.title if shown else link.title or link.name,
                price=price_in_words(shown.offer) if shown else "no price yet",
                ladder=ladder,
                rate=conversion(ladder.paid, ladder.opened),
                money=money.get(link.pk, []),
                last_paid_at=last_paid.get(link.pk),
                waiting=waiting.get(link.pk, 0),
                thumbnail=next((small[item] for item in shown.items.values() if item in small), "") if shown else "",
                sold=sold_words(shown.content, pieces.get(link.pk, {})) if shown and link.version_id else (),
            )
        )
    return rows
