"""Those that were counted, ordered, on one scale, each against the one that leads."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.english import counted
from cravik.core.graphics.dots import Dot, DotChart, dot_chart
from cravik.core.statistics.comparisons import Verdict, against, level
from cravik.core.text.results_words import Piece, Standing, leading_words
from cravik.journal.facets import Visits
from cravik.results.comparing.base import ComparedKind, Counted, Scope


@dataclass(frozen=True)
class Row:
    """One of them on the page: with its dot, and what may be said of it against the one that leads."""

    counted: Counted
    dot: Dot | None
    verdict: Verdict | None = None
    #: Whether its rate is the very same as that of the one that leads.
    is_level: bool = False


@dataclass(frozen=True)
class Comparison:
    """All of them, the highest rate first, then those that cannot tell and what is the rest; the scale, and the
    sentence."""

    rows: tuple[Row, ...]
    chart: DotChart
    sentence: tuple[Piece, ...]
    whole: Visits


def comparison_of(kind: ComparedKind, scope: Scope) -> Comparison:
    """What the kind finds in the scope."""
    found = kind.counted(scope)
    order = sorted(found, key=_place)
    chart = dot_chart([each.rate for each in order])
    named = [each for each in order if not each.is_rest]  # which come first; what is the rest is held against nobody
    standings = [Standing(each.name, each.rate, each.money) for each in named]
    verdicts = [None, *against(named[0].rate, [each.rate for each in named[1:]])] if named else []
    judged = [*verdicts, *[None] * (len(order) - len(verdicts))]
    rows = [
        Row(each, dot, verdict, is_level=bool(named) and level(each.rate, named[0].rate))
        for each, dot, verdict in zip(order, chart.dots, judged, strict=True)
    ]
    whole = sum((each.visits for each in order), Visits())
    sentence = leading_words(standings, scope.business.currency, kind.noun, is_over=scope.period.is_over)
    if order and not standings:
        sentence = [Piece(f"No {kind.one} is known of {counted(whole.ladder.opened, *kind.noun)} in these days.")]
    return Comparison(tuple(rows), chart, tuple(sentence), whole)


def _place(each: Counted) -> tuple[object, ...]:
    """By which they are put in order."""
    return (each.is_rest, not each.rate.tells, -each.rate.share, -each.ladder.opened, each.name)
