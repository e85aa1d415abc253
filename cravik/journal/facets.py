"""What a visit says under each facet, and how visits are counted: the same way for sums and for what is read itself."""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from functools import lru_cache
from typing import Any

from django.db.models import CharField, Count, DateTimeField, F, Func, IntegerField, Q, QuerySet, Sum, Value
from django.db.models.functions import Cast, Coalesce

from cravik.core.statistics.ladder import Ladder, Rung
from cravik.core.statistics.pace import BOUNDS, Pace
from cravik.core.statistics.rates import Rate, conversion
from cravik.journal.models import Facet, LeftOut, Visit
from cravik.upkeep.prepared import Param, PreparedSelect


@dataclass(frozen=True)
class Visits:
    """How far some visits got, and how long it took those that paid."""

    ladder: Ladder = field(default_factory=Ladder)
    pace: Pace = field(default_factory=Pace)

    @property
    def rate(self) -> Rate:
        """The share that paid."""
        return conversion(self.ladder.paid, self.ladder.opened)

    def __add__(self, other: Visits) -> Visits:
        return Visits.of_counts([one + more for one, more in zip(self.counts, other.counts, strict=True)])

    @property
    def counts(self) -> tuple[int, ...]:
        """As the columns of a sum."""
        ladder = self.ladder
        return (ladder.opened, ladder.started, ladder.tried, ladder.paid, *self.pace.counts)

    @classmethod
    def of_ladder(cls, ladder: Ladder) -> Visits:
        """Of those whose time to pay was not looked at."""
        return cls(ladder, Pace(of=ladder.paid))

    @classmethod
    def of_counts(cls, counts: Sequence[int]) -> Visits:
        """From the columns of a sum."""
        ladder = Ladder(*counts[: len(RUNGS)])
        return cls(ladder, Pace(tuple(counts[len(RUNGS) :]), ladder.paid))


def text_of(name: str) -> Coalesce:
    """A plain id as the text that a sum has for it; none is empty."""
    return Coalesce(Cast(name, CharField()), Value(""))


def seconds_of(name: str) -> Cast:
    """An instant as whole seconds since 1970, by SQLite itself."""
    return Cast(Func(Value("%s"), F(name), function="strftime", output_field=CharField()), IntegerField())


#: Of each facet, what of a visit is its value.
VALUES: dict[Facet, Any] = {
    Facet.LINK: text_of("link_id"),
    Facet.SPOT: text_of("spot_id"),
    Facet.CAMPAIGN: text_of("campaign_id"),
    Facet.REFERRER: F("referrer"),
    Facet.DEVICE: F("device"),
    Facet.VERSION: text_of("version_id"),
    Facet.CODE: text_of("code_id"),
    Facet.LEFT_OUT: F("reason"),
}
#: What is summed of each link, and of all links of a business together.
OF_LINK = (
    Facet.SPOT,
    Facet.CAMPAIGN,
    Facet.REFERRER,
    Facet.DEVICE,
    Facet.VERSION,
    Facet.CODE,
    Facet.LEFT_OUT,
)
OF_ALL_LINKS = (Facet.LINK, Facet.CAMPAIGN, Facet.REFERRER, Facet.DEVICE, Facet.CODE, Facet.LEFT_OUT)

RUNGS = tuple(rung.name.lower() for rung in Rung)
#: The columns of a sum, in their order.
COLUMNS = (*RUNGS, *(f"pace_{bound}" for bound in BOUNDS))
#: Instants are counted by the quarter of an hour that they lie in: every day of every time zone is made of whole ones.
QUARTER = 900

#: The columns of the rungs that a visit reached that came as far as this one.
_REACHED_BY = {rung.value: [column for column, each in enumerate(Rung) if rung >= each] for rung in Rung}
_TIME_TO_PAY = seconds_of("paid_at") - seconds_of("opened_at")
_REACHED = {name: Count("id", filter=Q(rung__gte=rung)) for name, rung in zip(RUNGS, Rung, strict=True)}
_TOOK = {
    # The rung is looked at first, so that times are worked out for those alone who paid.
    f"pace_{bound}": Count("id", filter=Q(rung=Rung.PAID) & Q(took__gt=low, took__lte=bound))
    for low, bound in zip((-1, *BOUNDS), BOUNDS, strict=False)
}
_NONE = {name: Value(0) for name in COLUMNS[1:]}


def counted(
    facet: Facet, business_id: int, since: datetime, until: datetime, *by: str, link_id: int | None = None
) -> Iterable[tuple[Any, ...]]:
    """What came from ``since`` on and before ``until``, at one link or at all: told apart ``by`` columns or the
    ``quarter``, then the value and the columns of a sum."""
    period = {"business_id": business_id, "since": since, "until": until}
    return _prepared(facet, by, link_id is not None).rows(**period, link_id=link_id)


def counted_at_once(business_id: int, since: datetime, until: datetime) -> Iterator[tuple[Any, ...]]:
    """What ``counted`` says of each facet of visits, link by link, by one reading of them: link, facet, value, and the
    columns of a sum. For a day that is summed: of few links or facets the database counts sooner by itself."""
    tally: Counter[tuple[Any, ...]] = Counter()
    for link_id, rung, took, *values in _EACH_VISIT.rows(business_id=business_id, since=since, until=until):
        got = (rung, bisect_left(BOUNDS, took) if rung == Rung.PAID and took is not None and took >= 0 else None)
        for facet, value in zip(_OF_VISITS, values, strict=True):
            if facet != Facet.CODE or rung >= Rung.TRIED:
                tally[link_id, facet, value, got] += 1
    sums: dict[tuple[Any, ...], list[int]] = {}
    for (*key, (rung, pace)), count in tally.items():
        columns = sums.setdefault(tuple(key), [0] * len(COLUMNS))
        for column in _REACHED_BY[rung]:
            columns[column] += count
        if pace is not None and pace < len(BOUNDS):
            columns[len(RUNGS) + pace] += count
    yield from ((*key, *columns) for key, columns in sums.items())


def reached_by_quarter(
    business_id: int, since: datetime, until: datetime, link_id: int | None = None
) -> Iterable[tuple[int, int, int]]:
    """Of the same: the quarter of an hour, the furthest rung, and how many visits reached it."""
    period = {"business_id": business_id, "since": since, "until": until}
    found: Iterable[Any] = _QUARTERS[link_id is not None].rows(**period, link_id=link_id)
    return found


#: The facets of a link that its visits say.
_OF_VISITS = tuple(facet for facet in OF_LINK if facet != Facet.LEFT_OUT)
_EACH_VISIT = PreparedSelect(
    lambda: (
        _within(Visit.objects.all(), "opened_at", False)
        .annotate(took=_TIME_TO_PAY, **{f"of_{facet}": VALUES[facet] for facet in _OF_VISITS})
        .values_list("link_id", "rung", "took", *(f"of_{facet}" for facet in _OF_VISITS))
    )
)


@lru_cache(maxsize=64)
def _prepared(facet: Facet, by: tuple[str, ...], is_of_link: bool) -> PreparedSelect:
    """Built once, since what it is made of takes longer to compile than to answer."""
    if facet == Facet.LEFT_OUT:
        return PreparedSelect(lambda: _left_out(_within(LeftOut.objects.all(), "minute", is_of_link), by))
    return PreparedSelect(lambda: _visits(_within(Visit.objects.all(), "opened_at", is_of_link), facet, by))


def _within(rows: QuerySet[Any], instant: str, is_of_link: bool) -> QuerySet[Any]:
    since, until = (Param(name, DateTimeField()) for name in ("since", "until"))
    rows = rows.filter(business_id=Param("business_id"), **{f"{instant}__gte": since, f"{instant}__lt": until})
    rows = rows.filter(link_id=Param("link_id")) if is_of_link else rows
    within: QuerySet[Any] = rows.order_by().annotate(quarter=seconds_of(instant) / QUARTER)
    return within


def _visits(visits: QuerySet[Any], facet: Facet, by: tuple[str, ...]) -> QuerySet[Any]:
    if facet == Facet.CODE:
        # Which discount code somebody has is known of those alone who tried to pay.
        visits = visits.filter(rung__gte=Rung.TRIED)
    visits = visits.annotate(value=VALUES[facet], took=_TIME_TO_PAY)
    grouped = visits.values(*by, "value").annotate(**_REACHED, **_TOOK)
    found: QuerySet[Any] = grouped.values_list(*by, "value", *COLUMNS)
    return found


def _left_out(rows: QuerySet[Any], by: tuple[str, ...]) -> QuerySet[Any]:
    grouped = rows.annotate(value=VALUES[Facet.LEFT_OUT]).values(*by, "value").annotate(opened=Sum("visits"), **_NONE)
    found: QuerySet[Any] = grouped.values_list(*by, "value", *COLUMNS)
    return found


def _quarters(is_of_link: bool) -> PreparedSelect:
    def build() -> QuerySet[Any]:
        rows = _within(Visit.objects.all(), "opened_at", is_of_link).values("quarter", "rung")
        found: QuerySet[Any] = rows.annotate(visits=Count("id")).values_list("quarter", "rung", "visits")
        return found

    return PreparedSelect(build)


_QUARTERS = {is_of_link: _quarters(is_of_link) for is_of_link in (False, True)}
