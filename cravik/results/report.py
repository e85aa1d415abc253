"""The figures of a period by link and spot: what the pages say, as data.

Days are the seller's. A visit counts on the day on which it was opened, at every rung that it reached; money on the day
on which it moved, net of refunds.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

from django.db.models import Q

from cravik.core.pricing.money import Money
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import Rate, conversion
from cravik.journal.queries import AtSpot, ladders_by_link, ladders_by_spot, left_out
from cravik.links.models import Link, Spot
from cravik.orders.takings import money_by_link, money_by_spot
from cravik.setup.models import Business
from cravik.setup.periods import Period


def report(business: Business, period: Period, links: Sequence[Link], spot: str = "") -> dict[str, Any]:
    """The figures of ``links`` and their spots in the period; of one spot alone, where its code is given."""
    ids = [link.pk for link in links]
    ladders = ladders_by_link(business.pk, period)
    spot_ladders = ladders_by_spot(business.pk, period, ids)
    money = money_by_link(business.pk, period)
    spot_money = money_by_spot(business.pk, period, ids)
    spots = spots_with_figures(ids, spot, {*spot_ladders, *spot_money})
    return {
        "from": period.first.isoformat(),
        "to": period.last.isoformat(),
        "time_zone": period.time_zone,
        "links": [
            {
                "link": link.slug,
                "name": link.name,
                **_figures(ladders.get(link.pk, Ladder()), money.get(link.pk, [])),
                "spots": [
                    {
                        "spot": each.code,
                        "name": each.name,
                        **_figures(
                            spot_ladders.get((link.pk, each.pk), Ladder()), spot_money.get((link.pk, each.pk), [])
                        ),
                    }
                    for each in spots.get(link.pk, [])
                ],
            }
            for link in links
            if not spot or link.pk in spots
        ],
        "left_out": left_out(business.pk, period, ids),
    }


def spots_with_figures(link_ids: Sequence[int], code: str, with_figures: Collection[AtSpot]) -> dict[int, list[Spot]]:
    """The spots by link: those that lead to it, and those that have figures there and were moved since."""
    left: dict[int, set[int]] = {}
    for link_id, spot_id in with_figures:
        left.setdefault(spot_id, set()).add(link_id)
    there = Q(link_id__in=link_ids) | Q(moves__left__in=link_ids)
    wanted = Spot.objects.filter(there).distinct()
    spots: dict[int, list[Spot]] = {}
    for spot in wanted.filter(code=code.upper()) if code else wanted:
        for link_id in {spot.link_id} | left.get(spot.pk, set()):
            spots.setdefault(link_id, []).append(spot)
    return spots


def _figures(ladder: Ladder, money: list[Money]) -> dict[str, Any]:
    rate = conversion(ladder.paid, ladder.opened)
    return {
        "opened": ladder.opened,
        "started": ladder.started,
        "tried": ladder.tried,
        "paid": ladder.paid,
        "rate": _share(rate, rate.share),
        "rate_low": _share(rate, rate.low),
        "rate_high": _share(rate, rate.high),
        "money": {each.currency: each.major for each in money},
    }


def _share(rate: Rate, share: float) -> str | None:
    """Four decimals, or None where there are too few visits to tell."""
    return f"{share:.4f}" if rate.tells else None
