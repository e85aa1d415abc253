"""Which of a line's levels."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.checkout.parts.base import LinePart, Offered, one_of
from cravik.core.pricing.offer import Line
from cravik.core.pricing.price import LevelsPrice
from cravik.core.text.money_text import format_money
from cravik.ui.form_data import FormData


class LevelPart(LinePart):
    name = "level"
    template = "checkout/parts/level.html"
    fills = ("level",)
    refusals: ClassVar = {
        "level_missing": "Choose one of these.",
        "level_unknown": "Choose one of these.",
    }

    def fields(self, line: Line, offered: Offered) -> dict[str, forms.Field]:
        if not isinstance(line.price, LevelsPrice):
            return {}
        choices = [
            (level.key, f"{level.name}, {format_money(level.amount, offered.locale)}") for level in line.price.levels
        ]
        field = one_of("Choose one", choices)
        field.levels = line.price.levels  # type: ignore[attr-defined]  # for its template, which shows them as cards
        return {f"level.{line.key}": field}

    def initial_values(self, line: Line, offered: Offered) -> dict[str, str]:
        return {f"level.{line.key}": line.price.levels[0].key} if isinstance(line.price, LevelsPrice) else {}

    def read(self, key: str, line: Line | None, typed: FormData, currency: str) -> dict[str, Any]:
        sent = str(typed.get(f"level.{key}") or "")
        return {"level": sent[:200]} if sent else {}
