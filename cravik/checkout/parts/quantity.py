"""How many of a line."""

from __future__ import annotations

import re
import unicodedata
from typing import Any, ClassVar

from django import forms

from cravik.checkout.parts.base import LinePart, Offered, PartRefused, Typed
from cravik.core.errors import Fault
from cravik.core.pricing.offer import Line

_MAX_QUANTITY = 1_000_000_000


class QuantityPart(LinePart):
    name = "quantity"
    template = "checkout/parts/quantity.html"
    piece = "checkout/parts/_quantity_hint.html"
    fills = ("quantity",)
    refusals: ClassVar = {
        "quantity_missing": "Say how many.",
        "quantity_malformed": "Write a whole number, such as 3.",
        "quantity_below_minimum": "The least is {limit}.",
        "quantity_above_maximum": "The most is {limit}.",
    }

    def fields(self, line: Line, offered: Offered) -> dict[str, forms.Field]:
        bounds = line.quantity
        if bounds.min == bounds.max:
            return {}
        most = f"up to {bounds.max:,}" if bounds.max is not None else ""
        least = f"at least {bounds.min:,}" if bounds.min > 1 else ""
        attributes = {"inputmode": "numeric", "autocomplete": "off", "class": "is-short", "data-least": bounds.min}
        attributes |= {"data-most": bounds.max} if bounds.max is not None else {}
        field = forms.CharField(
            label="How many",
            required=False,
            help_text=" and ".join(filter(None, (least, most))).capitalize(),
            widget=forms.TextInput(attrs=attributes),
        )
        return {f"quantity.{line.key}": field}

    def supposed(self, line: Line, offered: Offered) -> dict[str, str]:
        return {f"quantity.{line.key}": str(line.quantity.default)}

    def read(self, key: str, line: Line | None, typed: Typed, currency: str) -> dict[str, Any]:
        name = f"quantity.{key}"
        sent = typed.get(name)
        if sent is None:
            return {}
        text = re.sub(r"[\s'’.,]", "", unicodedata.normalize("NFKC", str(sent)))
        if not text:
            raise PartRefused(Fault("quantity_missing", name, "Say how many."))
        if not re.fullmatch(r"-?\d{1,12}", text, re.ASCII) or abs(int(text)) > _MAX_QUANTITY:
            raise PartRefused(Fault("quantity_malformed", name, "Write a whole number, such as 3."))
        if re.search(r"\d[.,]\d{1,2}$", str(sent).strip()):
            raise PartRefused(Fault("quantity_malformed", name, "Write a whole number, such as 3."))
        return {"quantity": int(text)}
