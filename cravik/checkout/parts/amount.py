"""What a buyer gives, where the price is their choice."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.checkout.parts.base import LinePart, Offered, PartRefused, parse_typed_amount
from cravik.core.english import listed
from cravik.core.errors import Fault
from cravik.core.pricing.offer import Line
from cravik.core.pricing.price import OpenPrice
from cravik.core.text.money_text import format_money
from cravik.ui.form_data import FormData


class AmountPart(LinePart):
    name = "amount"
    template = "checkout/parts/amount.html"
    fills = ("amount",)
    refusals: ClassVar = {
        "amount_missing": "Enter an amount.",
        "amount_below_minimum": "The least is {limit}.",
        "amount_above_maximum": "The most is {limit}.",
        "amount_not_wanted": "You can't choose this here.",
    }

    def fields(self, line: Line, offered: Offered) -> dict[str, forms.Field]:
        if not isinstance(line.price, OpenPrice):
            return {}
        field = forms.CharField(
            label=f"Your amount, in {offered.offer.currency}",
            required=False,
            max_length=60,
            help_text=_bounds(line.price, offered.locale),
            widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "class": "is-short"}),
        )
        field.suggested = line.price.suggested  # type: ignore[attr-defined]  # for its template, which has buttons
        return {f"amount.{line.key}": field}

    def initial_values(self, line: Line, offered: Offered) -> dict[str, str]:
        price = line.price
        return {f"amount.{line.key}": price.start.major} if isinstance(price, OpenPrice) and price.start else {}

    def read(self, key: str, line: Line | None, typed: FormData, currency: str) -> dict[str, Any]:
        name = f"amount.{key}"
        sent = typed.get(name)
        if sent is None:
            return {}
        if not str(sent).strip():
            if line is not None and not isinstance(line.price, OpenPrice):
                return {}
            raise PartRefused(Fault("amount_missing", name))
        return {"amount": parse_typed_amount(str(sent), currency, name)}


def _bounds(price: OpenPrice, locale: str) -> str:
    bounds = [f"at least {format_money(price.min, locale)}"] if price.min else []
    bounds += [f"at most {format_money(price.max, locale)}"] if price.max is not None else []
    words = listed(bounds, "and").capitalize()
    return f"{words}." if words else ""
