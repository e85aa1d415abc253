"""Numbers and days that belong to a name: “1 hour”, “no. 7”, “12 June”."""

from __future__ import annotations

import re

from cravik.core.text.said.draft import Draft
from cravik.core.text.said.pieces import Got, Rule, Unsuited


def _day(got: Got) -> None:
    if "/" in [token.word for token in got.tokens("day")] or len(got.tokens("day")) == 1:
        raise Unsuited


def _by(got: Got) -> None:
    if re.fullmatch(r"\d+[.,]\d\d", got.text("bare")):
        raise Unsuited  # a sum


def _counted_again(got: Got) -> None:
    """``2 colour`` where another number of them has its own price: ``Print 2 colour 40, 3 colour 50``."""
    words, noun = got.line.words, got.word("noun")
    if (
        noun in words.joining | words.ending | words.telling
        or noun in words.spans
        or noun in words.months
        or noun == "x"
    ):
        raise Unsuited
    one = noun.removesuffix("s")
    shadow = got.line.lexed.shadow
    counted = re.findall(rf"# {re.escape(one)}s? (?:#|¤|,|:|for )", shadow)
    named = shadow.partition("#")[0].split()
    if len(counted) < 2 or one in named or f"{one}s" in named or got.is_of_price("noun"):
        raise Unsuited


RULES = (
    Rule("name", "{whole} {noun}", _counted_again, 0.75),
    Rule("name", "<numbered> [. | : | no] ({count} | {many})", lambda _: None, 0.65),
    Rule("name", "({count} | {bare}) [~ {bare:to} | x {bare:by}] <measure>", lambda _: None, 0.75),
    Rule("name", "{bare} x {bare:by}", _by, 0.3),
    Rule("name", "{day}", _day, 0.7),
    Rule("name", "on {day}", lambda _: None, 0.75),
    Rule("name", "{day} [,] [at | from] {clock}", lambda _: None, 0.75),
    Rule("name", "{clock} [on] {day}", lambda _: None, 0.75),
    Rule("name", "{clock}", lambda _: None, 0.6),
    Rule("name", "{ordinal}", lambda _: None, 0.5),
)


def build(draft: Draft) -> None:
    """Nothing: what is a name stands in one."""
