"""Whether an extra is wanted."""

from __future__ import annotations

from django import forms

from cravik.checkout.parts.base import LinePart, Offered, Typed, tick
from cravik.core.pricing.offer import Line


class ExtraPart(LinePart):
    name = "take"
    fills = ("key",)

    def fields(self, line: Line, offered: Offered) -> dict[str, forms.Field]:
        if not line.optional:
            return {}
        return {f"take.{line.key}": tick("Add it")}

    def leaves_out(self, line: Line, typed: Typed) -> bool:
        return line.optional and typed.get(f"take.{line.key}") != "yes"
