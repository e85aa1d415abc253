"""Reading the journal."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable
from datetime import datetime
from typing import TypeVar

from django.db.models import Count, Max, Sum

from cravik.core.statistics.ladder import Ladder
from cravik.journal.campaigns import parameters_of
from cravik.journal.models import LeftOut, Visit

_Visited = TypeVar("_Visited", int, tuple[int, int])


#: A spot while it led to a link, by the ids of link and spot: a spot may be moved to another.
AtSpot = tuple[int, int]


def ladders_by_spot(link_ids: Collection[int], since: datetime, until: datetime) -> dict[AtSpot, Ladder]:
    """The ladder of every spot at which the links were opened in the period; others are absent."""
    rows = (
        Visit.objects.filter(link_id__in=link_ids, opened_at__gte=since, opened_at__lt=until)
        .order_by()
        .values_list("link_id", "spot_id", "rung")
        .annotate(visits=Count("id"))
    )
    return _ladders(((link, spot), rung, visits) for link, spot, rung, visits in rows)


def ladders_by_link(business_id: int, since: datetime, until: datetime) -> dict[int, Ladder]:
    """The ladder of every link of the business that was opened in the period; others are absent."""
    rows = (
        Visit.objects.filter(business_id=business_id, opened_at__gte=since, opened_at__lt=until)
        .order_by()
        .values_list("link_id", "rung")
        .annotate(visits=Count("id"))
    )
    return _ladders(rows)


def last_visits(spot_ids: Collection[int]) -> dict[int, datetime]:
    """When somebody was last seen at each of the spots, wherever it led; where nobody ever was, it is absent."""
    rows = Visit.objects.filter(spot_id__in=spot_ids).order_by().values_list("spot_id").annotate(Max("last_at"))
    return dict(rows)


def campaign_of(visit_id: int | None) -> dict[str, str]:
    """The parameters of the campaign that brought the visit; none where none did."""
    visit = Visit.objects.select_related("campaign").filter(id=visit_id or 0).first()
    return parameters_of(visit.campaign.query) if visit and visit.campaign else {}


def left_out(business_id: int, link_ids: Collection[int], since: datetime, until: datetime) -> dict[str, int]:
    """How many visits to the links were not counted in the period, by reason; those that did not occur are absent."""
    rows = (
        LeftOut.objects.filter(business_id=business_id, link_id__in=link_ids, minute__gte=since, minute__lt=until)
        .order_by("reason")
        .values_list("reason")
        .annotate(sum=Sum("visits"))
    )
    return {reason: visits for reason, visits in rows if visits}


def _ladders(rows: Iterable[tuple[_Visited, int, int]]) -> dict[_Visited, Ladder]:
    """From rows of what was visited, the rung, and how many visits got so far."""
    furthest: defaultdict[_Visited, dict[int, int]] = defaultdict(dict)
    for visited, rung, visits in rows:
        furthest[visited][rung] = visits
    return {visited: Ladder.of_furthest(by_rung) for visited, by_rung in furthest.items()}
