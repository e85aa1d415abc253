"""What was taken: money that moved, net of refunds, by the same facets and days as visits, one sum a currency.

What a payment was brought by is what brought its visit. Sums are never added across currencies.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable
from datetime import date, datetime
from functools import lru_cache
from typing import Any

from django.db.models import DateTimeField, OuterRef, QuerySet, Subquery, Sum, Value
from django.db.models.functions import Coalesce

from cravik.core.pricing.money import Money
from cravik.journal.facets import OF_LINK, QUARTER, VALUES, seconds_of, text_of
from cravik.journal.models import Facet, Visit
from cravik.journal.models.sums import ALL_LINKS
from cravik.journal.parts import parts_of
from cravik.journal.sum_reading import read_sums
from cravik.journal.summing import with_all_links, write_day, write_month
from cravik.orders.models import MoneySum
from cravik.payments.models import Movement
from cravik.setup.periods import Period
from cravik.upkeep.prepared import Param, PreparedSelect


def money_by(facet: Facet, business_id: int, period: Period) -> dict[str, list[Money]]:
    """What all links of the business took in the period, by the facet's values; those that took nothing are absent."""
    return {value: money for (_, value), money in _money(facet, business_id, period, None).items()}


def money_of_links(
    facet: Facet, business_id: int, period: Period, link_ids: Collection[int]
) -> dict[tuple[int, str], list[Money]]:
    """The same of each of the links, by its id and the value."""
    return _money(facet, business_id, period, link_ids)


def money_by_link(business_id: int, period: Period) -> dict[int, list[Money]]:
    """What each link took in the period; links that took nothing are absent."""
    return {int(link): money for link, money in money_by(Facet.LINK, business_id, period).items()}


def money_by_spot(business_id: int, period: Period, link_ids: Collection[int]) -> dict[tuple[int, int], list[Money]]:
    """The same for each spot while it led to one of the links, by the ids of link and spot."""
    found = money_of_links(Facet.SPOT, business_id, period, link_ids)
    return {(link, int(spot)): money for (link, spot), money in found.items()}


def money_by_instant(business_id: int, since: datetime, until: datetime, link_id: int | None) -> dict[int, list[Money]]:
    """What a link (None: all) took, by the quarter of an hour, counted since 1970."""
    found = _counted(Facet.LINK, business_id, since, until, "quarter", link_id=link_id)
    return {quarter: money for (quarter,), money in _added((row[0], *row[2:]) for row in found).items()}


def money_by_day(business_id: int, period: Period, link_id: int | None) -> dict[date, list[Money]]:
    """What a link (None: all) took by the seller's day; days on which nothing moved are absent."""
    parts = parts_of(business_id, period, by_day=True)
    links = None if link_id is None else [link_id]
    rows = list(read_sums(MoneySum, ("minor",), ("day", "currency"), Facet.DEVICE, business_id, links, parts))
    for since, until in parts.instants:
        found = money_by_instant(business_id, since, until, link_id)
        rows += [
            (period.day_of(quarter * QUARTER), each.currency, each.minor)
            for quarter, money in found.items()
            for each in money
        ]
    return {day: money for (day,), money in _added(rows).items()}


def read_takings(business_id: int, period: Period) -> list[tuple[Any, ...]]:
    """What moved on the one day that the period is: rows of link, facet, value, currency and minor units."""
    day = (business_id, period.since, period.until)
    rows = ((link, facet, *row) for facet in OF_LINK for link, *row in _counted(facet, *day, "link_id"))
    return list(with_all_links(rows, keys=2))


def write_takings(business_id: int, day: date, rows: list[tuple[Any, ...]]) -> None:
    """Write the day's sums, in the transaction under way."""
    write_day(MoneySum, business_id, day, ("currency", "minor"), rows)


def sum_takings_of_month(business_id: int, month: date) -> None:
    """Write the sums of the month that begins on that day from its days."""
    write_month(MoneySum, business_id, month, ("currency",), ("minor",))


def _money(
    facet: Facet, business_id: int, period: Period, link_ids: Collection[int] | None
) -> dict[tuple[Any, ...], list[Money]]:
    parts = parts_of(business_id, period)
    by = ("link_id", "value", "currency")
    rows = list(read_sums(MoneySum, ("minor",), by, facet, business_id, link_ids, parts))
    for since, until in parts.instants:
        if link_ids is None:
            rows += [(ALL_LINKS, *row) for row in _counted(facet, business_id, since, until)]
        else:
            only = next(iter(link_ids)) if len(link_ids) == 1 else None
            found = _counted(facet, business_id, since, until, "link_id", link_id=only)
            rows += (row for row in found if row[0] in link_ids)
    return _added(rows)


def _counted(
    facet: Facet, business_id: int, since: datetime, until: datetime, *by: str, link_id: int | None = None
) -> Iterable[tuple[Any, ...]]:
    """What moved then: what it is told apart ``by`` (columns, or ``quarter``), the value, the currency, minor units."""
    if facet == Facet.LEFT_OUT:
        return ()
    period = {"business_id": business_id, "since": since, "until": until}
    return _prepared(facet, by, link_id is not None).rows(**period, link_id=link_id)


@lru_cache(maxsize=64)
def _prepared(facet: Facet, by: tuple[str, ...], is_of_link: bool) -> PreparedSelect:
    return PreparedSelect(lambda: _moved(facet, by, is_of_link))


def _moved(facet: Facet, by: tuple[str, ...], is_of_link: bool) -> QuerySet[Any, Any]:
    since, until = (Param(name, DateTimeField()) for name in ("since", "until"))
    rows = Movement.objects.filter(business_id=Param("business_id"), rehearsal=False, at__gte=since, at__lt=until)
    rows = rows.filter(link_id=Param("link_id")) if is_of_link else rows
    rows = rows.order_by().annotate(quarter=seconds_of("at") / QUARTER, of=_OF[facet])
    grouped = rows.values(*by, "of", "currency").annotate(minor=Sum("amount_minor"))
    found: QuerySet[Any] = grouped.values_list(*by, "of", "currency", "minor")
    return found


def _of_visit(facet: Facet) -> Coalesce:
    visit = Visit.objects.filter(id=OuterRef("checkout__visit_id")).annotate(of=VALUES[facet])
    return Coalesce(Subquery(visit.values("of")), Value(""))


_OF: dict[Facet, Any] = {
    Facet.LINK: text_of("link_id"),
    Facet.SPOT: text_of("spot_id"),
    Facet.CAMPAIGN: _of_visit(Facet.CAMPAIGN),
    Facet.REFERRER: _of_visit(Facet.REFERRER),
    Facet.DEVICE: _of_visit(Facet.DEVICE),
    Facet.VERSION: text_of("checkout__order__version_id"),
    Facet.CODE: text_of("checkout__order__code_id"),
}


def _added(rows: Iterable[tuple[Any, ...]]) -> dict[tuple[Any, ...], list[Money]]:
    """Rows of a key, a currency and minor units: one sum a key and currency, the currencies in their order."""
    sums: defaultdict[tuple[Any, ...], defaultdict[str, int]] = defaultdict(lambda: defaultdict(int))
    for *key, currency, minor in rows:
        sums[tuple(key)][currency] += minor
    return {
        key: [Money(minor, currency) for currency, minor in sorted(by_currency.items())]
        for key, by_currency in sums.items()
    }
