"""Whether an extra is wanted."""

from __future__ import annotations

from django import forms

from cravik.checkout.parts.base import LinePart, Offered, tick
from cravik.core.pricing.offer import Line, Offer
from cravik.ui.form_data import FormData


class ExtraPart(LinePart):
    name = "take"
    fills = ("key",)

    def fields(self, line: Line, offered: Offered) -> dict[str, forms.Field]:
        if not line.optional or is_taken_by_number(line, offered.offer):
            return {}
        return {f"take.{line.key}": tick("Add it")}

    def leaves_out(self, line: Line, typed: FormData, offer: Offer) -> bool:
        if not line.optional or typed.get(f"take.{line.key}") == "yes":
            return False
        number = str(typed.get(f"quantity.{line.key}") or "").strip()
        return not (is_taken_by_number(line, offer) and number.strip("0"))


def is_taken_by_number(line: Line, offer: Offer) -> bool:
    """Whether a buyer says by how many whether they want it at all: of several things of which they take any."""
    return offer.is_any_of and line.quantity.max != 1
