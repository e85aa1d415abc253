"""What the results' pages compare: links, or the spots of one, over whole days; the same figures as the report's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.urls import reverse

from cravik.core.graphics.dots import Dot, DotChart, dot_chart
from cravik.core.pricing.money import Money
from cravik.core.statistics.comparisons import Verdict, against
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import Rate, conversion
from cravik.core.text.results_words import Piece, Standing, leading_words
from cravik.journal.queries import ladders_by_link, ladders_by_spot
from cravik.links.models import Link
from cravik.orders.takings import money_by_link, money_by_spot
from cravik.results.report import spots_with_figures
from cravik.setup.models import Business
from cravik.setup.periods import Period


@dataclass(frozen=True)
class Counted:
    """One of those that are compared: what it is called, where it is looked at, how far its visits got, its money."""

    name: str
    address: str
    ladder: Ladder
    money: tuple[Money, ...]

    @property
    def rate(self) -> Rate:
        return conversion(self.ladder.paid, self.ladder.opened)

    @property
    def per_visit(self) -> tuple[Money, ...]:
        """Each sum shared out over the visits, rounded half up to the minor unit; none without visits."""
        of = self.ladder.opened
        return tuple(Money((2 * each.minor + of) // (2 * of), each.currency) for each in self.money) if of else ()


@dataclass(frozen=True)
class Row:
    """One of them on the page: with its dot, and what may be said of it against the one that leads."""

    counted: Counted
    dot: Dot | None
    verdict: Verdict | None = None


@dataclass(frozen=True)
class Comparison:
    """All of them, the highest rate first and those that cannot tell last; the scale, and the sentence."""

    rows: tuple[Row, ...]
    chart: DotChart
    sentence: tuple[Piece, ...]
    ladder: Ladder


def links_compared(business: Business, period: Period) -> Comparison:
    """Every link that was visited or earned in the period."""
    ladders = ladders_by_link(business.pk, period)
    money = money_by_link(business.pk, period)
    links = Link.objects.of(business).filter(id__in={*ladders, *money}).only("id", "name")
    found = [
        Counted(
            link.name,
            reverse("results:link", args=[link.pk]),
            ladders.get(link.pk, Ladder()),
            tuple(money.get(link.pk, ())),
        )
        for link in links
    ]
    return compared(found, business.currency)


def spots_compared(link: Link, period: Period) -> Comparison:
    """Every spot of the link, and those that led to it and have figures there."""
    ladders = ladders_by_spot(link.business_id, period, [link.pk])
    money = money_by_spot(link.business_id, period, [link.pk])
    spots = spots_with_figures([link.pk], "", {*ladders, *money}).get(link.pk, [])
    found = [
        Counted(
            spot.name,
            reverse("share:spot", args=[spot.link_id, spot.pk]),
            ladders.get((link.pk, spot.pk), Ladder()),
            tuple(money.get((link.pk, spot.pk), ())),
        )
        for spot in spots
    ]
    return compared(found, link.business.currency)


def compared(found: Sequence[Counted], currency: str) -> Comparison:
    """Those that were found, ordered, on one scale, each against the one that leads."""
    order = sorted(found, key=lambda each: (not each.rate.tells, -each.rate.share, -each.ladder.opened, each.name))
    chart = dot_chart([each.rate for each in order])
    verdicts = against(order[0].rate, [each.rate for each in order[1:]]) if order else []
    rows = [Row(each, dot) for each, dot in zip(order, chart.dots, strict=True)]
    rows[1:] = [Row(row.counted, row.dot, said) for row, said in zip(rows[1:], verdicts, strict=True)]
    whole = [sum(getattr(each.ladder, rung) for each in order) for rung in ("opened", "started", "tried", "paid")]
    standings = [Standing(each.name, each.rate, each.money) for each in order]
    return Comparison(tuple(rows), chart, tuple(leading_words(standings, currency)), Ladder(*whole))
