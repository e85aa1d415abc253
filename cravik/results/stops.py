"""Where the buyers of one link stop: field by field, in the order of the page, and what is most worth trying."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from cravik.checkout.asked import asked_fields
from cravik.core.graphics.dots import Dot, DotChart, dot_chart, dot_picture
from cravik.core.graphics.picture import Picture
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import Rate, conversion
from cravik.core.statistics.stops import Stop
from cravik.core.text.trying import Trial, worth_trying
from cravik.journal.fields import FieldCount, fields_by_name
from cravik.links.life.shown_version import shown_version
from cravik.results.comparing.base import Scope, rate_words, share_cells
from cravik.ui.spreadsheets import as_text

HEAD = ["step", "field", "reached", "left_blank", "refused", "stopped_here", "share", "share_low", "share_high"]


@dataclass(frozen=True)
class StopRow:
    """A field on the page, under the step that it belongs to, with its dot."""

    step: str
    stop: Stop
    dot: Dot | None

    @property
    def rate(self) -> Rate:
        return self.stop.rate


@dataclass(frozen=True)
class Stops:
    """All of them; how many opened the page and filled in nothing, and how many tried to pay and did not get
    through."""

    rows: tuple[StopRow, ...]
    chart: DotChart
    ladder: Ladder
    trial: Trial | None

    @property
    def untouched(self) -> Rate:
        """Of those who opened the page, who filled in nothing."""
        return conversion(self.ladder.opened - self.ladder.started, self.ladder.opened)

    @property
    def unpaid(self) -> Rate:
        """Of those who tried to pay, who did not."""
        return conversion(self.ladder.tried - self.ladder.paid, self.ladder.tried)

    @property
    def unknown(self) -> int:
        """How many began and never tried to pay, of whom nobody knows which field was their last."""
        stopped = sum(row.stop.stopped for row in self.rows)
        return max(0, self.ladder.started - self.ladder.tried - stopped)

    def picture(self, of: str) -> Picture:
        named = [(row.stop.label, row.rate, rate_words(row.rate, "nobody reached it")) for row in self.rows]
        summary = f"{self.trial.words} {self.trial.evidence}" if self.trial else "No field stands out."
        return dot_picture(named, f"{of}: the share that stopped at each field", summary)


def stops_of(scope: Scope, ladder: Ladder) -> Stops:
    """The fields of the link in the scope; ``ladder`` is of all its visits."""
    link = scope.link
    assert link is not None and link.version_id is not None
    counts = fields_by_name(scope.business.pk, scope.period, link.pk)
    asked = asked_fields(shown_version(link.version_id))
    found = [
        (
            field.step,
            replace(
                _stop(field.label, counts.get(field.name, FieldCount())),
                may_go=field.may_go,
                fixed=field.fixed,
                is_required=field.is_required,
            ),
        )
        for field in asked
    ]
    gone = sorted(counts.keys() - {field.name for field in asked})
    found += [("No longer on the page", _stop(name.partition(".")[2] or name, counts[name])) for name in gone]
    chart = dot_chart([stop.rate for _, stop in found])
    rows = [StopRow(step, stop, dot) for (step, stop), dot in zip(found, chart.dots, strict=True)]
    on_page = [stop for _, stop in found[: len(asked)]]
    return Stops(tuple(rows), chart, ladder, worth_trying(on_page, ladder))


def rows_of(stops: Stops) -> Iterator[list[object]]:
    """The table behind the picture: a field a row."""
    for row in stops.rows:
        stop, shares = row.stop, [share or "" for share in share_cells(row.rate)]
        yield [row.step, as_text(stop.label), stop.reached, stop.blank, stop.refused, stop.stopped, *shares]


def _stop(label: str, count: FieldCount) -> Stop:
    return Stop(label, reached=count.reached, blank=count.blank, refused=count.refused, stopped=count.stopped)
