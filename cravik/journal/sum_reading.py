"""Reading sums of one table: what a facet's values came to on the parts of a period that are summed.

Each combination of table and columns is compiled once in a process, since compiling takes longer than the answer.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator
from functools import lru_cache
from typing import Any

from django.db.models import CharField, DateField, QuerySet, Sum

from cravik.journal.models import Facet
from cravik.journal.models.sums import ALL_LINKS, SumKey
from cravik.journal.parts import Parts
from cravik.upkeep.prepared import Param, PreparedSelect


def read_sums(
    table: type[SumKey],
    columns: tuple[str, ...],
    by: tuple[str, ...],
    facet: Facet,
    business_id: int,
    link_ids: Collection[int] | None,
    parts: Parts,
) -> Iterator[tuple[Any, ...]]:
    """Rows of what they are told apart ``by``, and of each column its sum, of each summed part of the period one after
    the other; of the links, or (None) of all of the business together."""
    links = {f"link{place}": link for place, link in enumerate((ALL_LINKS,) if link_ids is None else link_ids)}
    query = _prepared(table, columns, by, tuple(links))
    for grain, first, last in parts.summed if links else ():
        yield from query.rows(**links, business=business_id, facet=facet, grain=grain, first=first, last=last)


@lru_cache(maxsize=64)
def _prepared(
    table: type[SumKey], columns: tuple[str, ...], by: tuple[str, ...], links: tuple[str, ...]
) -> PreparedSelect:
    def build() -> QuerySet[Any, Any]:
        found = table._default_manager.filter(
            business_id=Param("business"),
            link_id__in=[Param(name) for name in links],
            facet=Param("facet", CharField()),
            grain=Param("grain", CharField()),
            day__gte=Param("first", DateField()),
            day__lte=Param("last", DateField()),
        )
        added = found.order_by().values(*by).annotate(**{f"sum_{name}": Sum(name) for name in columns})
        rows: QuerySet[Any, Any] = added.values_list(*by, *(f"sum_{name}" for name in columns))
        return rows

    return PreparedSelect(build)
