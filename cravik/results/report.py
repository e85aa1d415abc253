"""The figures of a period by link and spot: what the pages say, as data.

Days are the seller's. A visit counts on the day on which it was opened, at every rung that it reached; money on the day
on which it moved, net of refunds.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, TypeVar

from cravik.core.pricing.money import Money
from cravik.journal.facets import Visits
from cravik.journal.models import Facet
from cravik.journal.queries import left_out, visits_by, visits_of_links
from cravik.links.models import Link
from cravik.orders.takings import money_by, money_of_links
from cravik.people.models import Business
from cravik.results.comparing.base import Counted, share_cells
from cravik.results.comparing.spots import spots_with_figures
from cravik.setup.periods import Period

_Key = TypeVar("_Key", str, tuple[int, str])


def report(business: Business, period: Period, links: Sequence[Link], spot: str = "") -> dict[str, Any]:
    """The figures of ``links`` and their spots in the period; of one spot alone, where its code is given."""
    ids = [link.pk for link in links]
    visits, money = visits_by(Facet.LINK, business.pk, period), money_by(Facet.LINK, business.pk, period)
    at_spots = visits_of_links(Facet.SPOT, business.pk, period, ids)
    money_at_spots = money_of_links(Facet.SPOT, business.pk, period, ids)
    spots = spots_with_figures(ids, spot, {(link, int(at)) for link, at in {*at_spots, *money_at_spots}})
    return {
        "from": period.first.isoformat(),
        "to": period.last.isoformat(),
        "time_zone": period.time_zone,
        "links": [
            {
                "link": link.slug,
                "name": link.name,
                **figures_of(_counted(str(link.pk), visits, money)),
                "spots": [
                    {
                        "spot": each.code,
                        "name": each.name,
                        **figures_of(_counted((link.pk, str(each.pk)), at_spots, money_at_spots)),
                    }
                    for each in spots.get(link.pk, [])
                ],
            }
            for link in links
            if not spot or link.pk in spots
        ],
        "left_out": left_out(business.pk, period, ids),
    }


def _counted(key: _Key, visits: Mapping[_Key, Visits], money: Mapping[_Key, Sequence[Money]]) -> Counted:
    return Counted("", "", visits.get(key, Visits()), tuple(money.get(key, ())))


def figures_of(each: Counted) -> dict[str, Any]:
    """How far the visits got, the rate and its bounds (None where there are too few to tell), time to pay and money."""
    ladder = each.ladder
    return {
        "opened": ladder.opened,
        "started": ladder.started,
        "tried": ladder.tried,
        "paid": ladder.paid,
        **dict(zip(("rate", "rate_low", "rate_high"), share_cells(each.rate), strict=True)),
        "seconds_to_pay": seconds_to_pay(each),
        "money": {taken.currency: taken.major for taken in each.money},
    }


def seconds_to_pay(each: Counted) -> int | None:
    """The median, as far as it is known."""
    median = each.visits.pace.median
    return None if median is None or median == float("inf") else round(median)
