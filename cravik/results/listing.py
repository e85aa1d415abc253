"""Home's list of links: found, sorted by any of its columns, and told row by row."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from django.core.paginator import Page, Paginator

from cravik.core.pricing.money import Money
from cravik.core.statistics.ladder import Ladder
from cravik.journal.queries import ladders_by_link
from cravik.links.finding.found import Sought, found_links, sorted_links
from cravik.links.models import Link
from cravik.links.queries import listed_links
from cravik.orders.queries import last_paid_by_link
from cravik.orders.takings import money_by_link
from cravik.people.models import Business
from cravik.results.queries import LinkRow, link_rows
from cravik.setup.periods import usual_period

PAGE = 50
#: What a list can be sorted by, in the order of its columns, as a seller says it.
COLUMNS = {
    "name": "Name",
    "state": "State",
    "visits": "Visits",
    "rate": "Rate",
    "money": "Money",
    "paid": "Last paid",
    "newest": "Newest",
}
_NEVER = datetime(1, 1, 1, tzinfo=UTC)


@dataclass(frozen=True)
class Listing:
    """A page of the links that were found, and how many there are in all."""

    page: Page[Any]
    rows: list[LinkRow]


def listing_of(business: Business, sought: Sought, order: str, number: str, now: datetime) -> Listing:
    """The page of that ``number``. ``order`` is one of ``COLUMNS``, with a hyphen where it is turned round; nothing:
    by state."""
    links = found_links(business, sought)
    by = _KEYS.get(order.removeprefix("-"))
    if by is None:
        ids = list(sorted_links(links, order).values_list("id", flat=True))
    else:
        newest = links.order_by("-id").values_list("id", flat=True)
        ids = sorted(newest, key=by(business, now), reverse=not order.startswith("-"))
    page = Paginator(ids, PAGE).get_page(number)
    listed = listed_links(Link.objects.filter(id__in=page.object_list))
    shown = {link.pk: link for link in listed}
    return Listing(page, link_rows(business, [shown[pk] for pk in page.object_list if pk in shown], now))


def _visits(business: Business, now: datetime) -> Callable[[int], Any]:
    ladders = _ladders(business, now)
    return lambda pk: ladders.get(pk, Ladder()).opened


def _rate(business: Business, now: datetime) -> Callable[[int], Any]:
    """By the share that paid; what nobody opened comes last."""
    ladders = _ladders(business, now)

    def share(pk: int) -> float:
        ladder = ladders.get(pk, Ladder())
        return ladder.paid / ladder.opened if ladder.opened else -1.0

    return share


def _money(business: Business, now: datetime) -> Callable[[int], Any]:
    """By what came in in the currency of the business, and then by what did in others."""
    period = usual_period(business, now)
    money = money_by_link(business.pk, period)

    def came_in(pk: int) -> tuple[int, int]:
        sums: list[Money] = money.get(pk, [])
        own = sum(each.minor for each in sums if each.currency == business.currency)
        return own, max((each.minor for each in sums if each.currency != business.currency), default=0)

    return came_in


def _paid(business: Business, _: datetime) -> Callable[[int], Any]:
    last = last_paid_by_link(business)
    return lambda pk: last.get(pk, _NEVER)


def _ladders(business: Business, now: datetime) -> dict[int, Ladder]:
    period = usual_period(business, now)
    return ladders_by_link(business.pk, period)


_KEYS: dict[str, Callable[[Business, datetime], Callable[[int], Any]]] = {
    "visits": _visits,
    "rate": _rate,
    "money": _money,
    "paid": _paid,
}
