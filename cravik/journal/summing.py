"""Writing the sums of visits: a day is read, then taken out and put in whole, so it may be done again at any time, and
the figures are what the visits say."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, TypeVar

from django.db.models import Sum

from cravik.journal.facets import COLUMNS, OF_ALL_LINKS, OF_LINK, counted
from cravik.journal.fields import FIELD_COLUMNS, fields_counted
from cravik.journal.models import Facet, FieldSum, VisitSum
from cravik.journal.models.sums import ALL_LINKS, SumKey
from cravik.journal.parts import month_after
from cravik.setup.periods import Period
from cravik.upkeep.prepared import insert_all

_Sum = TypeVar("_Sum", bound=SumKey)
_KEY = ("business_id", "grain", "day")
Counted = Iterable[tuple[Any, ...]]


@dataclass(frozen=True)
class DayOfVisits:
    """What there is of one day, read: rows of link, facet, value and the columns of a sum."""

    visits: list[tuple[Any, ...]]
    fields: list[tuple[Any, ...]]


def read_day(business_id: int, period: Period) -> DayOfVisits:
    """The one day that the period is: its visits, and the fields that they came to."""

    def of_day(facet: Facet, *by: str) -> Counted:
        return counted(facet, business_id, period.since, period.until, *by)

    fields = fields_counted(business_id, period.since, period.until)
    rows = [(link, Facet.FIELD, name, *counts) for (link, name), counts in fields.items()]
    return DayOfVisits(list(by_facet(of_day)), rows)


def write_visits(business_id: int, day: date, read: DayOfVisits) -> None:
    """Write the day's sums, in the transaction under way."""
    write_day(VisitSum, business_id, day, COLUMNS, read.visits)
    write_day(FieldSum, business_id, day, FIELD_COLUMNS, read.fields)


def sum_visits_of_month(business_id: int, month: date) -> None:
    """Sum the month that begins on that day from its days."""
    write_month(VisitSum, business_id, month, (), COLUMNS)
    write_month(FieldSum, business_id, month, (), FIELD_COLUMNS)


def by_facet(of_day: Callable[..., Counted]) -> Iterator[tuple[Any, ...]]:
    """What ``of_day`` says of each facet, of each link and of all together: link, facet, value, columns."""
    for facet in OF_LINK:
        yield from ((link_id, facet, *row) for link_id, *row in of_day(facet, "link_id"))
    for facet in OF_ALL_LINKS:
        yield from ((ALL_LINKS, facet, *row) for row in of_day(facet))


def write_day(
    model: type[_Sum], business_id: int, day: date, columns: Sequence[str], rows: Iterable[tuple[Any, ...]]
) -> None:
    """Replace the day's sums by the rows of link, facet, value and columns."""
    model._default_manager.filter(business_id=business_id, grain=SumKey.Grain.DAY, day=day).delete()
    key = (business_id, SumKey.Grain.DAY.value, day.isoformat())
    names = (*_KEY, "link_id", "facet", "value", *columns)
    insert_all(model, names, ((*key, link, str(facet), *rest) for link, facet, *rest in rows))


def write_month(model: type[_Sum], business_id: int, month: date, more: Sequence[str], columns: Sequence[str]) -> None:
    """Replace the month's sums by those of its days; ``more`` are columns by which they are told apart, too."""
    rows = model._default_manager.filter(business_id=business_id)
    rows.filter(grain=SumKey.Grain.MONTH, day=month).delete()
    days = rows.filter(grain=SumKey.Grain.DAY, day__gte=month, day__lt=month_after(month)).order_by()
    by = ("link_id", "facet", "value", *more)
    key = (business_id, SumKey.Grain.MONTH.value, month.isoformat())
    added = days.values(*by).annotate(**{f"sum_{name}": Sum(name) for name in columns})
    found = added.values_list(*by, *(f"sum_{name}" for name in columns))
    insert_all(model, (*_KEY, *by, *columns), ((*key, *row) for row in found))
