"""Looks at rows whose true rates are known, for holding verdicts and promises to what they say."""

from __future__ import annotations

from random import Random

from cravik.core.statistics.comparisons import against, more_visits
from cravik.core.statistics.rates import Rate, conversion


def seen(chances: Random, rate: float, of: int) -> Rate:
    """What so many visits show of a true rate."""
    return conversion(sum(chances.random() < rate for _ in range(of)), of)


def wrong_look(chances: Random, rows: int, rate: float, half: float) -> bool:
    """Whether a look calls a row less than one that is no better: of rows with one true rate, or of which half have
    ``half`` of it."""
    true = [rate * (1 if row < (rows + 1) // 2 else half) for row in range(rows)]
    shown = [seen(chances, each, chances.choice((30, 80, 200, 400))) for each in true]
    first = max(range(rows), key=lambda row: shown[row].share)
    others = [row for row in range(rows) if row != first]
    verdicts = against(shown[first], [shown[row] for row in others])
    return any(said.says == "better" and true[row] >= true[first] for row, said in zip(others, verdicts, strict=True))


def told_by_more(chances: Random, rows: int) -> bool:
    """Whether as many visits more as are promised do tell the first from all others, where the true rates are those
    that were seen and visits come as they came."""
    while True:
        of = [chances.choice((80, 200, 400)) for _ in range(rows)]
        shown = [conversion(round(each * chances.uniform(0.14, 0.18)), each) for each in of[:1]]
        shown += [conversion(round(each * chances.uniform(0.04, 0.11)), each) for each in of[1:]]
        more = more_visits(shown[0], shown[1:])
        if more and any(each.says == "unclear" for each in against(shown[0], shown[1:])):
            break
    came = [0] * rows
    for row in chances.choices(range(rows), of, k=more):
        came[row] += 1
    grown = [
        conversion(rate.happened + seen(chances, rate.share, n).happened, rate.of + n)
        for rate, n in zip(shown, came, strict=True)
    ]
    return all(each.says == "better" for each in against(grown[0], grown[1:]))
