"""What of a results' page can be taken away: as a table, and as a picture."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from django.http import HttpResponse
from django.http.response import HttpResponseBase

from cravik.core.graphics.dots import dot_picture
from cravik.core.graphics.picture import Picture
from cravik.results.comparing.base import ComparedKind, Counted, Scope, money_cell, rate_words, share_cells, whole_of
from cravik.results.comparing.comparison import Comparison, comparison_of
from cravik.results.over_time import HEAD as TIME_HEAD
from cravik.results.over_time import over_time, rows_of
from cravik.results.report import seconds_to_pay
from cravik.results.staying import HEAD as STAYING_HEAD
from cravik.results.staying import LinkStaying
from cravik.results.staying import rows_of as staying_rows
from cravik.results.stops import HEAD as STOPS_HEAD
from cravik.results.stops import rows_of as stops_rows
from cravik.results.stops import stops_of
from cravik.ui.pictures import png, svg
from cravik.ui.spreadsheets import as_text, csv_response


@dataclass(frozen=True)
class Exhibit:
    """A table with its head, and the picture that it stands behind."""

    head: Sequence[str]
    rows: Callable[[], Iterator[Sequence[object]]]
    picture: Callable[[], Picture]

    def as_file(self, kind: str, name: str) -> HttpResponseBase | None:
        """The file of that kind, named so; None where there is no such kind."""
        if kind == "csv":
            return csv_response(f"{name}.csv", self.head, self.rows())
        if kind not in ("svg", "png"):
            return None
        content = svg(self.picture(), is_file=True).encode() if kind == "svg" else png(self.picture())
        media_type = "image/svg+xml" if kind == "svg" else "image/png"
        headers = {"Content-Disposition": f'attachment; filename="{name}.{kind}"'}
        return HttpResponse(content, media_type, headers=headers)


COMPARISON_HEAD = (
    "name", "opened", "started", "tried", "paid", "rate", "rate_low", "rate_high", "money", "money_per_visit",
    "seconds_to_pay",
)  # fmt: skip


def comparison_exhibit(kind: ComparedKind, scope: Scope) -> Exhibit:
    comparison = comparison_of(kind, scope)
    return Exhibit(
        COMPARISON_HEAD,
        lambda: (_cells(row.counted) for row in comparison.rows),
        lambda: comparison_picture(comparison, kind, scope),
    )


def comparison_picture(comparison: Comparison, kind: ComparedKind, scope: Scope) -> Picture:
    """The rates with their intervals, a row each."""
    none = f"no {kind.noun.more}"
    counted = [row.counted for row in comparison.rows]
    named = [(each.name, each.rate, rate_words(each.rate, none)) for each in counted]
    summary = "".join(piece.text for piece in comparison.sentence)
    return dot_picture(named, f"{scope.words}: {kind.label.lower()} by the share that paid", summary)


def time_exhibit(scope: Scope, grain: str) -> Exhibit:
    found = over_time(scope, grain)
    return Exhibit(TIME_HEAD, lambda: rows_of(found), found.picture)


def stops_exhibit(scope: Scope) -> Exhibit:
    found = stops_of(scope, whole_of(scope).ladder)
    return Exhibit(STOPS_HEAD, lambda: stops_rows(found), lambda: found.picture(scope.words))


def staying_exhibit(found: LinkStaying, scope: Scope) -> Exhibit:
    return Exhibit(STAYING_HEAD, lambda: staying_rows(found), lambda: found.picture(scope.words))


def _cells(each: Counted) -> list[object]:
    ladder = each.ladder
    reached = [ladder.opened, ladder.started, ladder.tried, ladder.paid]
    return [
        as_text(each.name),
        *reached,
        *(share or "" for share in share_cells(each.rate)),
        money_cell(each.money),
        money_cell(each.per_visit),
        seconds_to_pay(each),
    ]
