"""One amount, and a former one if there was. A line that has no price yet begins with it."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.documents.data import PriceData
from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.pricing.price import FixedPrice
from cravik.core.text.amount_text import parse_amount, parse_signed_amount
from cravik.core.text.faults import fault_words
from cravik.links.bench.parts.prices.base import PricePart, major, price_of
from cravik.links.bench.parts.prices.free import FreePricePart
from cravik.ui.fields import AMOUNT_ATTRIBUTES, AmountField


class FixedPricePart(PricePart):
    kind = "fixed"
    label = "One price"
    template = "links/bench/prices/fixed.html"

    price: FixedPrice | None = None

    @classmethod
    def shows(cls, price: PriceData) -> bool:
        return super().shows(price) and not FreePricePart.shows(price)

    def add_fields(self) -> None:
        widget = forms.TextInput(attrs=AMOUNT_ATTRIBUTES | {"placeholder": "24.00"})
        self.fields[self.field_named("amount")] = forms.CharField(label="Amount", required=False, widget=widget)
        self.fields[self.field_named("was")] = AmountField(
            label="Former price", help_text="Optional. Buyers see it struck through, and what they save."
        )

    def read(self) -> dict[str, Any]:
        return {
            self.field_named("amount"): self.before.get("amount", ""),
            self.field_named("was"): self.before.get("was") or "",
        }

    def check(self) -> None:
        if not (currency := self.typed_currency):
            return
        money, former = self._price(currency), self.amount(self, self.field_named("was"))
        self.price = FixedPrice(money, former) if money is not None else None
        if self.price and former is not None and self.price.saving is None:
            self.add_error(self.field_named("was"), "The former price has to be higher than the amount.")

    def _price(self, currency: str) -> Money | None:
        """What was typed; 0 is a price too, and nothing is none yet."""
        name = self.field_named("amount")
        typed = self.cleaned_data.get(name, "")
        if not typed.strip():
            return None
        try:
            amount = parse_signed_amount(typed, currency)
            return amount if amount.minor >= 0 else parse_amount(typed, currency)
        except CoreError as error:
            for fault in error.faults:
                self.add_error(name, forms.ValidationError(fault_words(fault), code=fault.code))
            return None

    @property
    def is_of_former_currency(self) -> bool:
        """The first line's amount stands beside the currency, and is read in it."""
        return super().is_of_former_currency and not self.line.is_first

    @property
    def piece(self) -> PriceData:
        if self.price is None:
            return {}
        return price_of(kind="fixed", amount=self.price.amount.major, was=major(self.price.was))

    @classmethod
    def begin(cls, amount: str) -> PriceData:
        return {"kind": "fixed", "amount": amount} if amount else {}
