"""Writing the sums of visits: a day is read, then taken out and put in whole, so it may be done again at any time, and
the figures are what the visits say."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import chain
from typing import Any, TypeVar

from django.db.models import Sum

from cravik.journal.facets import COLUMNS, OF_ALL_LINKS, counted, counted_at_once
from cravik.journal.fields import FIELD_COLUMNS, fields_counted
from cravik.journal.models import Facet, FieldSum, VisitSum
from cravik.journal.models.sums import ALL_LINKS, SumKey
from cravik.journal.parts import month_after
from cravik.setup.periods import Period
from cravik.upkeep.prepared import insert_all

_Sum = TypeVar("_Sum", bound=SumKey)
_KEY = ("business_id", "grain", "day")


@dataclass(frozen=True)
class DayOfVisits:
    """What there is of one day, read: rows of link, facet, value and the columns of a sum."""

    visits: list[tuple[Any, ...]]
    fields: list[tuple[Any, ...]]


def read_day(business_id: int, period: Period) -> DayOfVisits:
    """The one day that the period is: its visits, and the fields that they came to."""
    day = (business_id, period.since, period.until)
    left_out = ((link, Facet.LEFT_OUT, *row) for link, *row in counted(Facet.LEFT_OUT, *day, "link_id"))
    visits = with_all_links(chain(counted_at_once(*day), left_out))
    fields = [(link, Facet.FIELD, name, *counts) for (link, name), counts in fields_counted(*day).items()]
    return DayOfVisits(list(visits), fields)


def write_visits(business_id: int, day: date, read: DayOfVisits) -> None:
    """Write the day's sums, in the transaction under way."""
    write_day(VisitSum, business_id, day, COLUMNS, read.visits)
    write_day(FieldSum, business_id, day, FIELD_COLUMNS, read.fields)


def sum_visits_of_month(business_id: int, month: date) -> None:
    """Sum the month that begins on that day from its days."""
    write_month(VisitSum, business_id, month, (), COLUMNS)
    write_month(FieldSum, business_id, month, (), FIELD_COLUMNS)


def with_all_links(rows: Iterable[tuple[Any, ...]], keys: int = 1) -> Iterator[tuple[Any, ...]]:
    """The rows of links, and after them those of all links together: link, facet, value, columns. They are told apart
    by so many ``keys``, the value first; what follows is added up.

    What all links have together is the sum of what each has, and what a link has is the sum over devices: each visit
    has one, known or not. So nothing is read for it.
    """
    sums: dict[tuple[Any, ...], Sequence[int]] = {}
    for row in rows:
        yield row
        link_id, facet, value, *rest = row
        more, counts = rest[: keys - 1], rest[keys - 1 :]
        if facet in OF_ALL_LINKS:
            _add(sums, (ALL_LINKS, facet, value, *more), counts)
        if facet == Facet.DEVICE:
            _add(sums, (ALL_LINKS, Facet.LINK, str(link_id), *more), counts)
    yield from ((*key, *counts) for key, counts in sums.items())


def _add(sums: dict[tuple[Any, ...], Sequence[int]], key: tuple[Any, ...], counts: Sequence[int]) -> None:
    before = sums.get(key)
    sums[key] = counts if before is None else [had + more for had, more in zip(before, counts, strict=True)]


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
