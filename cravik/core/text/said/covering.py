"""The best ways to part a line into pieces and names: each word stands in exactly one, so none is used twice."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cache

from cravik.core.text.said.patterns import ANY, compiled
from cravik.core.text.said.pieces import Line, Piece, Rule, Search

#: So many ways are kept up to each word, and so many for long lines.
_KEPT, _KEPT_LONG, _LONG = 10, 3, 80
SEPARATORS = frozenset(", ; : / | ( ) — . ! ? = @ ~ + … * [ ]".split())

Way = tuple[float, tuple[Piece, ...]]


class Grammar:
    """Rules by the words with which they begin."""

    def __init__(self, rules: Iterable[Rule | Search]) -> None:
        self._rules = tuple(rules)

    @cache  # noqa: B019 - there is one of each language
    def _by_first(self) -> Mapping[str, list[Rule | Search]]:
        found: dict[str, list[Rule | Search]] = {}
        for rule in self._rules:
            for word in rule.first if isinstance(rule, Search) else compiled(rule.pattern).first:
                found.setdefault(word, []).append(rule)
        return found

    def pieces(self, line: Line) -> list[list[Piece]]:
        """Every piece, by the token at which it begins."""
        rules = self._by_first()
        always = rules.get(ANY, [])
        return [
            [piece for rule in (*rules.get(token.word, ()), *always) for piece in rule.read(line, place)]
            for place, token in enumerate(line.tokens)
        ]


def ways(line: Line, pieces: Sequence[Sequence[Piece]]) -> list[Way]:
    """The best ways, the best first: each piece with its score, every other word with what it is worth in a name."""
    count = len(line.tokens)
    kept = _KEPT if count <= _LONG else _KEPT_LONG
    best: list[list[tuple[float, tuple | None]]] = [[] for _ in range(count + 1)]  # type: ignore[type-arg]
    best[0] = [(0.0, None)]
    for place in range(count):
        here = sorted(best[place], key=lambda way: -way[0])[:kept]
        best[place] = []
        worth = name_worth(line, place)
        best[place + 1] += [(score + worth, before) for score, before in here]
        for piece in pieces[place]:
            best[piece.end] += [(score + piece.score, (piece, before)) for score, before in here]
    return [(score, _unrolled(chain)) for score, chain in sorted(best[count], key=lambda way: -way[0])[:kept]]


def _unrolled(chain: tuple | None) -> tuple[Piece, ...]:  # type: ignore[type-arg]
    found: list[Piece] = []
    while chain is not None:
        piece, chain = chain
        found.append(piece)
    return tuple(reversed(found))


def name_worth(line: Line, place: int) -> float:
    """How well a word stands in a name, or as what joins pieces."""
    token = line.tokens[place]
    word = token.word
    if word in SEPARATORS:
        return 0.0
    if word == "“”":
        return 0.9
    if word[0] in "#¤-" and token.number is not None:
        return -2.0 if word in ("¤", "#+", "-#") else -0.8 if word == "#." else _number_worth(line, place)
    if word == "%":
        return -0.2
    if word == "free" and line.word(place + 1) in SEPARATORS | line.words.joining | line.words.ending | {""}:
        return -0.25  # rather a price than the end of a name
    if word in line.words.telling:
        return -0.6
    return 0.15 if word in line.words.joining or word in line.words.ending else 0.35


def _number_worth(line: Line, place: int) -> float:
    if line.word(place) == "#y":
        return 0.9 if place == 0 else 0.45
    return -0.1
