"""The numbers of documents: without gaps, given in the transaction that makes the document."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.errors import Fault
from cravik.core.invoicing.numbers import MAX_NUMBER, OF_REHEARSALS, can_meet, label_of, stem_of
from cravik.core.text.refusal import Refusal
from cravik.orders.models import DocumentKind, IssuedDocument, NumberSeries
from cravik.orders.refusals import NUMBERS

_PREFIXES = {DocumentKind.RECEIPT: "R-", DocumentKind.INVOICE: "I-", DocumentKind.CORRECTION: "C-"}


class SeriesRefused(Refusal):
    """A series that would repeat a number, or meet another."""

    words = NUMBERS


@dataclass(frozen=True)
class SeriesDraft:
    """A series as a seller wants it from now on: ``next_number`` is the next that it gives."""

    kind: str
    prefix: str
    with_year: bool
    next_number: int


def series_of(business_id: int, kind: str, year: int, *, rehearsal: bool = False) -> NumberSeries:
    """The series; where nothing was decided, one that is not saved yet. In a new year it begins anew."""
    found = NumberSeries.objects.filter(business_id=business_id, kind=kind, rehearsal=rehearsal).first()
    series = found or NumberSeries(
        business_id=business_id,
        kind=kind,
        rehearsal=rehearsal,
        prefix=f"{OF_REHEARSALS if rehearsal else ''}{_PREFIXES[DocumentKind(kind)]}",
        year=year,
    )
    if series.with_year and year > series.year:
        series.year, series.last_number = year, 0
    return series


def take_number(business_id: int, kind: str, year: int, *, rehearsal: bool) -> tuple[str, int]:
    """The next stem and number of the series. In the transaction under way, which is the only one that writes."""
    series = series_of(business_id, kind, year, rehearsal=rehearsal)
    series.last_number += 1
    series.save()
    return stem_of_series(series), series.last_number


def stem_of_series(series: NumberSeries) -> str:
    return stem_of(series.prefix, series.year if series.with_year else None)


def change_series(business_id: int, drafts: list[SeriesDraft], year: int) -> None:
    """Number by these from now on. In the transaction under way. Raises ``SeriesRefused``, and changes nothing then."""
    faults = [fault for draft in drafts for fault in _wrong_with(business_id, draft, year)]
    for place, one in enumerate(drafts):
        for other in drafts[:place]:
            if can_meet(one.prefix, with_year=one.with_year, other=other.prefix, other_with_year=other.with_year):
                names = (DocumentKind(each.kind).label + "s" for each in (other, one))
                faults.append(Fault("series_meet", one.kind, one=next(names), other=next(names).lower()))
    if faults:
        raise SeriesRefused(*faults)
    for draft in drafts:
        series = series_of(business_id, draft.kind, year)
        series.prefix, series.with_year = draft.prefix, draft.with_year
        series.year, series.last_number = max(year, series.year), draft.next_number - 1
        series.save()


def _wrong_with(business_id: int, draft: SeriesDraft, year: int) -> list[Fault]:
    if draft.next_number > MAX_NUMBER:
        return [Fault("number_too_large", draft.kind, most=MAX_NUMBER)]
    stem = stem_of(draft.prefix, year if draft.with_year else None)
    given = IssuedDocument.objects.filter(business_id=business_id, stem=stem, number__gte=draft.next_number)
    last = given.order_by("-number").values_list("number", flat=True).first()
    if last is None:
        return []
    first = given.order_by("number").values_list("number", flat=True)[0]
    return [Fault("number_was_given", draft.kind, label=label_of(stem, first), free=last + 1)]
