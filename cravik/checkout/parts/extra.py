"""Whether an extra is wanted."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.checkout.parts.base import Offered, Typed, tick
from cravik.core.pricing.offer import Line


class ExtraPart:
    fills: ClassVar[tuple[str, ...]] = ("key",)

    def fields(self, line: Line, offered: Offered) -> dict[str, forms.Field]:
        if not line.optional:
            return {}
        return {f"take.{line.key}": tick("Add it")}

    def supposed(self, line: Line, offered: Offered) -> dict[str, str]:
        return {}

    def read(self, key: str, line: Line | None, typed: Typed, currency: str) -> dict[str, Any]:
        return {}

    def field_of(self, line: Line, part: str) -> str:
        return f"take.{line.key}"


def is_wanted(line: Line, typed: Typed) -> bool:
    """Whether the line is in the basket: every line that is no extra, and an extra that is ticked."""
    return not line.optional or typed.get(f"take.{line.key}") == "yes"
