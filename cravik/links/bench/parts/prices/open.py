"""What the buyer wants to give, within bounds, with suggestions."""

from __future__ import annotations

import re
from typing import Any

from django import forms

from cravik.core.documents.data import PriceData, put, put_or_drop
from cravik.core.documents.parts import MAX_LEVELS
from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.text.amount_text import parse_signed_amount
from cravik.core.text.faults import fault_words
from cravik.links.bench.parts.prices.base import PricePart, major, price_of
from cravik.ui.fields import AMOUNT_ATTRIBUTES, AmountField

#: Suggestions are parted by semicolons, line breaks, or a comma with a space: 1,50 is one amount in many languages.
_BETWEEN = re.compile(r"[;\n]|,\s|\s+(?=\d)")


class OpenPricePart(PricePart):
    kind = "open"
    label = "Buyer chooses"

    def add_fields(self) -> None:
        self.fields[self.field_named("least")] = AmountField(label="Minimum", help_text="Leave blank for 0.")
        self.fields[self.field_named("most")] = AmountField(label="Maximum", help_text="Leave blank for no limit.")
        self.fields[self.field_named("suggested")] = forms.CharField(
            label="Suggestions",
            required=False,
            max_length=400,
            help_text="Buttons beside the field, such as 10; 20; 50.",
            widget=forms.TextInput(attrs=AMOUNT_ATTRIBUTES | {"inputmode": "text"}),
        )
        self.fields[self.field_named("start")] = AmountField(
            label="Default", help_text="Optional. Left empty, the buyer writes the amount."
        )

    def read(self) -> dict[str, Any]:
        price = self.before
        return {
            self.field_named("least"): price.get("min", "") if str(price.get("min", "")).strip("0.") else "",
            self.field_named("most"): price.get("max") or "",
            self.field_named("suggested"): "; ".join(price.get("suggested") or []),
            self.field_named("start"): price.get("start") or "",
        }

    def check(self) -> None:
        least, most, start = (self.amount(self, self.field_named(name)) for name in ("least", "most", "start"))
        self.suggested = self._suggested()
        if least is not None and most is not None and most < least:
            self.add_error(self.field_named("most"), "The most is not below the least.")
            return
        amounts = [("start", start)] if start is not None else []
        for name, amount in [*amounts, *(("suggested", each) for each in self.suggested)]:
            if least is not None and amount < least:
                self.add_error(self.field_named(name), f"{amount.major} is below the least, {least.major}.")
            if most is not None and amount > most:
                self.add_error(self.field_named(name), f"{amount.major} is above the most, {most.major}.")

    def _suggested(self) -> list[Money]:
        name, currency = self.field_named("suggested"), self.typed_currency
        found = []
        typed = [text.strip() for text in _BETWEEN.split(self.cleaned_data.get(name, "")) if text and text.strip()]
        if len(typed) > MAX_LEVELS:
            self.add_error(name, f"These are {len(typed)} suggestions; the most is {MAX_LEVELS}.")
        for text in typed if currency else ():
            try:
                amount = parse_signed_amount(text, str(currency), name)
            except CoreError as error:
                self.add_error(name, f"“{text[:30]}”: {fault_words(error.faults[0])}")
                break
            if amount.minor < 0:
                self.add_error(name, "The amount can't be below zero.")
            found.append(amount)
        return found

    @property
    def piece(self) -> PriceData:
        least, most, start = (self.amount(self, self.field_named(name)) for name in ("least", "most", "start"))
        suggested = [amount.major for amount in self.suggested]
        price = price_of(kind="open", min=major(least) or "0", suggested=suggested or None, start=major(start))
        return put(price, max=major(most))  # which says so where there is no upper bound

    @classmethod
    def amount_in(cls, price: PriceData) -> str:
        suggested = price.get("suggested") or [""]
        amount = str(price.get("start") or suggested[0] or price.get("min") or "")
        return amount if amount.strip("0.") else ""

    @classmethod
    def begin(cls, amount: str) -> PriceData:
        return put_or_drop(PriceData(kind="open", min="0", max=None), suggested=[amount] if amount else [])
