"""The option of each of a line's groups."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from math import prod
from typing import Any, ClassVar

from django import forms

from cravik.catalogue.queries import ShownItem
from cravik.checkout.parts.base import LinePart, Offered, one_of
from cravik.core.pricing.default_basket import first_left
from cravik.core.pricing.offer import Line
from cravik.core.pricing.options import Option, OptionGroup
from cravik.core.text.money_text import format_money
from cravik.ui.form_data import FormData

#: So many ways of picking are looked through for one that is left; the stock of more is not counted anyway.


class OptionsPart(LinePart):
    name = "option"
    template = "checkout/parts/options.html"
    fills = ("options",)
    refusals: ClassVar = {
        "option_missing": "Choose one of these.",
        "option_unknown": "Choose one of these.",
    }

    def fields(self, line: Line, offered: Offered) -> dict[str, forms.Field]:
        gone = _gone(line.choices, offered.item_of(line).sold_out)
        return {
            f"option.{line.key}.{number}": one_of(
                choice.name,
                [
                    (
                        option.name,
                        _words(option, offered.locale) + (" – sold out" if (number, option.name) in gone else ""),
                    )
                    for option in choice.options
                ],
            )
            for number, choice in enumerate(line.choices, start=1)
        }

    def initial_values(self, line: Line, offered: Offered) -> dict[str, str]:
        first = first_left(line.choices, offered.item_of(line).sold_out)
        return {f"option.{line.key}.{number}": name for number, name in enumerate(first, start=1)}

    def read(self, key: str, line: Line | None, typed: FormData, currency: str) -> dict[str, Any]:
        picked = {}
        for name, value in typed.items():
            found = re.fullmatch(rf"option\.{re.escape(key)}\.(\d{{1,3}})", name, re.ASCII)
            if found and value:
                number = int(found[1])
                known = line is not None and 1 <= number <= len(line.choices)
                group = line.choices[number - 1].name if line is not None and known else f"#{number}"
                picked[group] = str(value)[:200]
        return {"options": picked} if picked else {}

    def is_gone(self, line: Line, item: ShownItem, typed: FormData) -> bool:
        picked = picked_options(line, typed)
        return bool(picked) and picked in item.sold_out

    def few_left(self, line: Line, item: ShownItem, typed: FormData) -> int | None:
        return dict(item.few).get(picked_options(line, typed))

    def line_of(self, field: str) -> str | None:
        found = re.fullmatch(r"option\.(.+)\.\d{1,3}", field, re.DOTALL | re.ASCII)
        return found[1] if found else None

    def field_of(self, line: Line, part: str) -> str:
        name = part.partition(".")[2]
        numbers = [number for number, choice in enumerate(line.choices, start=1) if choice.name == name]
        return f"option.{line.key}.{numbers[0]}" if numbers else ""


def picked_options(line: Line, typed: FormData) -> tuple[str, ...]:
    """The names of the options that are picked, in the order of their groups; an empty one for none."""
    return tuple(str(typed.get(f"option.{line.key}.{n}") or "") for n in range(1, len(line.choices) + 1))


def _gone(choices: Sequence[OptionGroup], sold_out: Sequence[tuple[str, ...]]) -> set[tuple[int, str]]:
    """The options, by the number of their group, that can be had in no way."""
    ways = Counter((number, name) for way in sold_out for number, name in enumerate(way, start=1))
    every = prod(len(choice.options) for choice in choices)
    return {(number, name) for (number, name), lost in ways.items() if lost * len(choices[number - 1].options) >= every}


def _words(option: Option, locale: str) -> str:
    if not option.add:
        return option.name
    sign = "+" if option.add.minor > 0 else "−"
    return f"{option.name} ({sign}{format_money(abs(option.add), locale)})"
