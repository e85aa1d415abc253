"""Numbers and days that belong to a name: “1 hour”, “no. 7”, “12 June”."""

from __future__ import annotations

from cravik.core.text.said.draft import Draft
from cravik.core.text.said.pieces import Got, Rule, Unsuited


def _day(got: Got) -> None:
    if "/" in [token.word for token in got.tokens("day")] or len(got.tokens("day")) == 1:
        raise Unsuited


RULES = (
    Rule("name", "<numbered> [. | : | no] ({count} | {many})", lambda _: None, 0.65),
    Rule("name", "({count} | {bare}) [~ {bare:to} | x {bare:by}] <measure>", lambda _: None, 0.75),
    Rule("name", "{bare} x {bare:by}", lambda _: None, 0.3),
    Rule("name", "{day}", _day, 0.7),
    Rule("name", "on {day}", lambda _: None, 0.75),
    Rule("name", "{day} [,] [at | from] {clock}", lambda _: None, 0.75),
    Rule("name", "{clock} [on] {day}", lambda _: None, 0.75),
    Rule("name", "{clock}", lambda _: None, 0.6),
    Rule("name", "{ordinal}", lambda _: None, 0.5),
)


def build(draft: Draft) -> None:
    """Nothing: what is a name stands in one."""
