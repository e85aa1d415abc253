"""The fields of a page that visits came to: written down by their names, counted, and read."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.db.models import TextField
from django.db.models.functions import Cast

from cravik.core.statistics.ladder import Rung
from cravik.journal.models import Facet, FieldPath, FieldSum, Visit
from cravik.journal.parts import parts_of
from cravik.journal.services import note_late
from cravik.journal.sum_reading import read_sums
from cravik.setup.periods import Period
from cravik.upkeep.prepared import Param, PreparedSelect, insert

MAX_FIELDS, MAX_NAME = 80, 100
#: The columns of a sum, in their order.
FIELD_COLUMNS = ("reached", "blank", "refused", "stopped")


@dataclass(frozen=True)
class FieldCount:
    """How many visits came to a field, left it blank, had it refused, and stopped at it."""

    reached: int = 0
    blank: int = 0
    refused: int = 0
    stopped: int = 0


@dataclass(frozen=True)
class Touched:
    """What is known of the fields of one page, by their names; see ``FieldPath``."""

    reached: Sequence[str] = ()
    blank: Sequence[str] = ()
    refused: Sequence[str] = ()
    last: str = ""


@transaction.atomic(savepoint=False)
def note_fields(visit_id: int, link_id: int, touched: Touched, now: datetime) -> None:
    """Add what is known of a visit's fields to what was known; a later ``last`` takes the place of the former."""
    visit = _VISIT.first(visit_id=visit_id, link_id=link_id)
    if visit is None:
        return
    business_id, opened_at = visit
    is_known = _KNOWN.first(visit_id=visit_id)  # nearly never at a press, which waits for this
    before = FieldPath.objects.select_for_update().filter(visit_id=visit_id).first() if is_known else None
    path = before or FieldPath(visit_id=visit_id, business_id=business_id, link_id=link_id, opened_at=opened_at)
    known = (path.reached, path.blank, path.refused, path.last)
    path.reached = _joined(path.reached, touched.reached)
    path.blank, path.refused = _joined(path.blank, touched.blank), _joined(path.refused, touched.refused)
    path.last = (touched.last or path.last)[:MAX_NAME]
    if before is None:
        insert(path)
    elif known != (path.reached, path.blank, path.refused, path.last):
        path.save()
    else:
        return
    note_late(business_id, opened_at, now)


def fields_by_name(business_id: int, period: Period, link_id: int) -> dict[str, FieldCount]:
    """What visits of the period did at each field of the link's page, by its name."""
    parts = parts_of(business_id, period)
    counts: dict[str, list[int]] = {}

    def add(name: str, row: Sequence[int]) -> None:
        counts[name] = [one + more for one, more in zip(counts.get(name, (0,) * 4), row, strict=True)]

    for name, *row in read_sums(FieldSum, FIELD_COLUMNS, ("value",), Facet.FIELD, business_id, [link_id], parts):
        add(name, row)
    for since, until in parts.instants:
        for (_, name), found in fields_counted(business_id, since, until, link_id).items():
            add(name, found)
    return {name: FieldCount(*row) for name, row in counts.items()}


def fields_counted(
    business_id: int, since: datetime, until: datetime, link_id: int | None = None
) -> dict[tuple[int, str], list[int]]:
    """The columns of a sum by link and field, of visits that were opened from ``since`` on and before ``until``."""
    paths = FieldPath.objects.filter(business_id=business_id, opened_at__gte=since, opened_at__lt=until)
    if link_id is not None:
        paths = paths.filter(link_id=link_id)
    counts: dict[tuple[int, str], list[int]] = {}
    as_kept = [Cast(name, TextField()) for name in ("reached", "blank", "refused")]
    alike = Counter(paths.values_list("link_id", "visit__rung", "last", *as_kept).iterator())  # so each is parsed once
    for (link, rung, last, *lists), visits in alike.items():
        reached, blank, refused = map(json.loads, lists)
        stopped = [last] if last in reached and rung < Rung.TRIED else []
        for column, names in enumerate((reached, blank, refused, stopped)):
            for name in names:
                counts.setdefault((link, name), [0] * len(FIELD_COLUMNS))[column] += visits
    return counts


def _joined(names: Collection[str], more: Iterable[str]) -> list[str]:
    """Those that were known and those that are new, each once, as many as a page may have."""
    return list(dict.fromkeys([*names, *(name[:MAX_NAME] for name in more)]))[:MAX_FIELDS]


_VISIT = PreparedSelect(
    lambda: Visit.objects.filter(id=Param("visit_id"), link_id=Param("link_id")).values_list("business_id", "opened_at")
)
_KNOWN = PreparedSelect(lambda: FieldPath.objects.filter(visit_id=Param("visit_id")).values_list("visit_id"))
