"""Prices of which the buyer picks one: levels, by the words that tell one from another."""

from __future__ import annotations

from collections.abc import Sequence

from cravik.core.english import listed
from cravik.core.pricing.price import Level, LevelsPrice
from cravik.core.text.money_text import format_money
from cravik.core.text.said.asking import Asking
from cravik.core.text.said.draft import MANY, SaidPrice, Thing
from cravik.core.text.said.names import (
    are_counted_alike,
    is_level,
    is_level_word,
    is_measure,
    is_telling,
    is_times,
    shared_end,
)
from cravik.core.text.said.pairs import Pair


class Picking(Asking):
    """What makes levels of names with prices."""

    def picked(self, named: Sequence[Pair], title: str, names: list[str]) -> None:
        base = self.base(title, names) or (shared_end(names), names[0])
        self.levels(base[0], (0, 0), [base[1], *names[1:]], named)

    def base(self, title: str, names: Sequence[str]) -> tuple[str, str] | None:
        """The name of the whole and of its first level, where both stand in one: ``Family portrait small``."""
        if title:
            return title, names[0]
        words = names[0].split()
        if are_counted_alike(names) and len(words) > 2:
            return " ".join(words[:-2]).strip(" ,;:—–-"), " ".join(words[-2:])
        for many in (3, 2, 1):
            if len(words) > many and is_level(self.line, " ".join(words[-many:])):
                return " ".join(words[:-many]).strip(" ,;:—–-"), " ".join(words[-many:])
        if is_level(self.line, names[0]):
            return "", names[0]
        return None

    def are_levels(self, title: str, names: Sequence[str]) -> bool:
        """Whether words of one kind tell them apart: ``small`` and ``large``, ``30 min`` and ``60 min``, ``1 pet`` and
        ``2 pets``."""
        base = self.base(title, names)
        if base is None or len(names) < 2:
            return False
        told = [base[1], *names[1:]]
        kinds = (is_level_word, is_measure)
        return are_counted_alike(names) or any(all(is_kind(self.line, name) for name in told) for is_kind in kinds)

    def levels_before(self, title: str, names: Sequence[str]) -> int:
        """How many of the names are levels, where others follow: ``small 30, large 55, nail trim 10``."""
        return next((many for many in range(len(names) - 1, 1, -1) if self.are_levels(title, names[:many])), 0)

    def levels(self, name: str, span: tuple[int, int], names: Sequence[str], pairs: Sequence[Pair]) -> None:
        plans, times = (
            {pair.price.plan for pair in pairs},
            [is_times(self.line, *self.name_over(pair.names)[1]) for pair in pairs],
        )
        tells = any(
            is_telling(self.line, *self.name_over(pair.names)[1]) and not is_level(self.line, name)
            for name, pair in zip(names, pairs, strict=True)
        )
        if tells or len({each.casefold() for each in names}) < len(names) or len(plans) > 1 or any(times):
            for pair in pairs:
                self.draft.refuse(pair.piece)
            return
        levels = [
            Level(f"level-{number}", each, pair.price.amount)
            for number, (each, pair) in enumerate(zip(names, pairs, strict=True), 1)
        ]
        each = any(pair.price.each for pair in pairs)
        self.draft.things.append(
            Thing(
                name or listed(list(names), "or"),
                pairs[0].start,
                span,
                other=LevelsPrice(tuple(levels)),
                quantity=MANY if each else None,
            )
        )
        self.take_plan(pairs[0].price)
        for level, pair in zip(levels, pairs, strict=True):
            pair.piece.words = f"{level.name} {format_money(level.amount)}: the buyer picks one"

    def take_plan(self, price: SaidPrice) -> None:
        if price.plan is None:
            return
        if self.draft.plan is None:
            self.draft.plan = price.plan

    def is_date(self, named: Sequence[Pair]) -> bool:
        """Whether a slash stands between two numbers without a space: ``on 5/6``."""
        tokens = self.line.tokens
        slashes = [place for place in range(named[0].end, named[-1].end) if tokens[place].word == "/"]
        return any(tokens[place].glued and tokens[place - 1].number and tokens[place + 1].number for place in slashes)
