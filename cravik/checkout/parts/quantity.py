"""How many of a line."""

from __future__ import annotations

import re
import unicodedata
from typing import Any, ClassVar

from django import forms

from cravik.checkout.parts.base import LinePart, Offered, PartRefused
from cravik.checkout.parts.extra import is_taken_by_number
from cravik.checkout.parts.options import picked_options
from cravik.core.errors import Fault
from cravik.core.pricing.offer import Line
from cravik.core.pricing.options import addition_of
from cravik.core.text.hints import quantity_hint, tariff_words
from cravik.ui.form_data import FormData

_MAX_QUANTITY = 1_000_000_000
#: Of a quantity that something is told about.
_MAX_HINTED_DIGITS = 7


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
        bounds, most_now = line.quantity, offered.most_of(line)
        may_be_none = is_taken_by_number(line, offered.offer)
        if bounds.min == bounds.max and not may_be_none:
            return {}
        for_one = offered.version.content.limits.pieces_per_buyer.get(line.key)
        most_said = min((each for each in (bounds.max, for_one) if each is not None), default=None)
        most = f"up to {most_said:,}" if most_said is not None else ""
        least = f"at least {bounds.min:,}" if bounds.min > 1 else ""
        attributes = {
            "inputmode": "numeric",
            "autocomplete": "off",
            "class": "is-short",
            "data-least": 0 if may_be_none else bounds.min,
        }
        attributes |= {"data-most": most_now} if most_now is not None else {}
        field = forms.CharField(
            label="How many",
            required=False,
            help_text=_sentences(tariff_words(line.price, offered.locale), " and ".join(filter(None, (least, most)))),
            widget=forms.TextInput(attrs=attributes),
        )
        return {f"quantity.{line.key}": field}

    def initial_values(self, line: Line, offered: Offered) -> dict[str, str]:
        default, most = line.quantity.default, offered.most_of(line)
        first = 0 if is_taken_by_number(line, offered.offer) else default if most is None else min(default, most)
        return {f"quantity.{line.key}": str(first)}

    def hint(self, line: Line, typed: FormData, locale: str) -> str:
        text, bounds = str(typed.get(f"quantity.{line.key}") or "").strip(), line.quantity
        quantity = int(text) if text.isdecimal() and len(text) <= _MAX_HINTED_DIGITS else 0
        if quantity < max(bounds.min, 1) or (bounds.max is not None and quantity > bounds.max):
            return ""
        picked = zip(line.choices, picked_options(line, typed), strict=True)
        add = addition_of(option for group, name in picked if (option := group.option(name)))
        return quantity_hint(line.price, bounds, quantity, add, locale)

    def read(self, key: str, line: Line | None, typed: FormData, currency: str) -> dict[str, Any]:
        name = f"quantity.{key}"
        sent = typed.get(name)
        if sent is None:
            return {}
        text = re.sub(r"[\s'’.,]", "", unicodedata.normalize("NFKC", str(sent)))
        if not text:
            raise PartRefused(Fault("quantity_missing", name))
        if not re.fullmatch(r"-?\d{1,12}", text, re.ASCII) or abs(int(text)) > _MAX_QUANTITY:
            raise PartRefused(Fault("quantity_malformed", name))
        if re.search(r"\d[.,]\d{1,2}$", str(sent).strip()):
            raise PartRefused(Fault("quantity_malformed", name))
        return {"quantity": int(text)}


def _sentences(*sentences: str) -> str:
    """Each as a sentence, where there are several."""
    capitalized = [f"{words[:1].upper()}{words[1:]}" for words in sentences if words]
    return capitalized[0] if len(capitalized) == 1 else " ".join(f"{words}." for words in capitalized)
