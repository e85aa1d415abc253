"""Reading the journal."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime

from django.db.models import Count

from cravik.core.ladder import Ladder
from cravik.journal.models import Visit


def ladders_by_link(business_id: int, since: datetime, until: datetime) -> dict[int, Ladder]:
    """The ladder of every link of the business that was opened in the period; others are absent."""
    rows = (
        Visit.objects.filter(business_id=business_id, opened_at__gte=since, opened_at__lt=until)
        .order_by()
        .values_list("link_id", "rung")
        .annotate(visits=Count("id"))
    )
    furthest: defaultdict[int, dict[int, int]] = defaultdict(dict)
    for link_id, rung, visits in rows:
        furthest[link_id][rung] = visits
    return {link_id: Ladder.of_furthest(by_rung) for link_id, by_rung in furthest.items()}
