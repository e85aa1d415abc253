"""Reading the journal."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable
from datetime import date, datetime
from typing import Any

from django.db.models import Max

from cravik.core.statistics.ladder import Ladder
from cravik.journal.campaigns import parameters_of
from cravik.journal.facets import COLUMNS, OF_LINK, QUARTER, Visits, counted, reached_by_quarter
from cravik.journal.models import Campaign, Facet, Visit, VisitSum
from cravik.journal.models.sums import ALL_LINKS
from cravik.journal.parts import parts_of
from cravik.journal.sum_reading import read_sums
from cravik.setup.periods import Period

#: A spot while it led to a link, by the ids of link and spot: a spot may be moved to another.
AtSpot = tuple[int, int]


def visits_by(facet: Facet, business_id: int, period: Period) -> dict[str, Visits]:
    """The visits of the period to all links of the business, by the facet's values; those without visits are absent."""
    return {value: visits for (_, value), visits in _visits(facet, business_id, period, None).items()}


def visits_of_links(
    facet: Facet, business_id: int, period: Period, link_ids: Collection[int]
) -> dict[tuple[int, str], Visits]:
    """The same of each of the links, by its id and the value."""
    assert facet in OF_LINK
    return _visits(facet, business_id, period, link_ids)


def ladders_by_spot(business_id: int, period: Period, link_ids: Collection[int]) -> dict[AtSpot, Ladder]:
    """The ladder of every spot at which the links were opened in the period; others are absent."""
    found = visits_of_links(Facet.SPOT, business_id, period, link_ids)
    return {(link, int(spot)): visits.ladder for (link, spot), visits in found.items()}


def ladders_by_link(business_id: int, period: Period) -> dict[int, Ladder]:
    """The ladder of every link of the business that was opened in the period; others are absent."""
    return {int(link): visits.ladder for link, visits in visits_by(Facet.LINK, business_id, period).items()}


def visits_by_instant(business_id: int, since: datetime, until: datetime, link_id: int | None) -> dict[int, Visits]:
    """How far the visits to a link (None: to all) got, by the quarter of an hour in which they began: the number of
    quarters of an hour since 1970. Read from the visits themselves; how long paying took is not looked at."""
    rows = reached_by_quarter(business_id, since, until, link_id)
    return {quarter: Visits.of_ladder(ladder) for quarter, ladder in _ladders(rows).items()}


def visits_by_day(business_id: int, period: Period, link_id: int | None) -> dict[date, Visits]:
    """The same by the seller's day; days without visits are absent."""
    parts = parts_of(business_id, period, by_day=True)
    links = None if link_id is None else [link_id]
    rows = read_sums(VisitSum, COLUMNS, ("day",), Facet.DEVICE, business_id, links, parts)
    found = {day: Visits.of_ladder(visits.ladder) for (day,), visits in _added(rows).items()}
    for since, until in parts.instants:
        for quarter, visits in visits_by_instant(business_id, since, until, link_id).items():
            day = period.day_of(quarter * QUARTER)
            found[day] = found.get(day, Visits()) + visits
    return found


def last_visits(spot_ids: Collection[int]) -> dict[int, datetime]:
    """When somebody was last seen at each of the spots, wherever it led; where nobody ever was, it is absent."""
    rows = Visit.objects.filter(spot_id__in=spot_ids).order_by().values_list("spot_id").annotate(Max("last_at"))
    return dict(rows)


def last_visit_from(spot_id: int, hosts: Collection[str]) -> datetime | None:
    """When somebody last came to the spot from a page of one of the hosts."""
    found = Visit.objects.filter(spot_id=spot_id, referrer__in=hosts).order_by("-opened_at")
    return found.values_list("opened_at", flat=True).first()


def campaign_of(visit_id: int | None) -> dict[str, str]:
    """The parameters of the campaign that brought the visit; none where none did."""
    visit = Visit.objects.select_related("campaign").filter(id=visit_id or 0).first()
    return parameters_of(visit.campaign.query) if visit and visit.campaign else {}


def campaigns(business_id: int, ids: Collection[int]) -> dict[int, dict[str, str]]:
    """The parameters of each of the campaigns."""
    found = Campaign.objects.filter(business_id=business_id, id__in=ids)
    return {campaign.pk: parameters_of(campaign.query) for campaign in found}


def left_out(business_id: int, period: Period, link_ids: Collection[int] | None = None) -> dict[str, int]:
    """How many visits to the links (None: to all) were not counted in the period, by reason, in order; those that did
    not occur are absent."""
    sums: defaultdict[str, int] = defaultdict(int)
    for (_, reason), visits in _visits(Facet.LEFT_OUT, business_id, period, link_ids).items():
        sums[reason] += visits.ladder.opened
    return {reason: sums[reason] for reason in sorted(sums) if sums[reason]}


def _visits(
    facet: Facet, business_id: int, period: Period, link_ids: Collection[int] | None
) -> dict[tuple[int, str], Visits]:
    parts = parts_of(business_id, period)
    rows = list(read_sums(VisitSum, COLUMNS, ("link_id", "value"), facet, business_id, link_ids, parts))
    for since, until in parts.instants:
        if link_ids is None:
            rows += [(ALL_LINKS, *row) for row in counted(facet, business_id, since, until)]
        else:
            only = next(iter(link_ids)) if len(link_ids) == 1 else None
            found = counted(facet, business_id, since, until, "link_id", link_id=only)
            rows += (row for row in found if row[0] in link_ids)
    return {(link, value): visits for (link, value), visits in _added(rows).items()}


def _added(rows: Iterable[tuple[Any, ...]]) -> dict[tuple[Any, ...], Visits]:
    """Rows of a key and the columns of a sum: those of the same key added up."""
    sums: dict[tuple[Any, ...], list[int]] = {}
    for row in rows:
        key, counts = row[: -len(COLUMNS)], row[-len(COLUMNS) :]
        if (there := sums.get(key)) is None:
            sums[key] = list(counts)
        else:
            sums[key] = [one + other for one, other in zip(there, counts, strict=True)]
    return {key: Visits.of_counts(counts) for key, counts in sums.items() if counts[0]}


def _ladders(rows: Iterable[tuple[int, int, int]]) -> dict[int, Ladder]:
    """From rows of when, the furthest rung, and how many visits got so far."""
    furthest: defaultdict[int, dict[int, int]] = defaultdict(dict)
    for quarter, rung, visits in rows:
        furthest[quarter][rung] = visits
    return {quarter: Ladder.of_furthest(by_rung) for quarter, by_rung in furthest.items()}
