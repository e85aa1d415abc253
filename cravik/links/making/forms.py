"""What a seller types where a line says too little: the purpose, the amount, the kind of price."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import MAX_TITLE_LENGTH
from cravik.core.text.amount_text import parse_amount
from cravik.core.text.faults import fault_words
from cravik.links.bench.parts.prices import PRICE_PARTS, FixedPricePart
from cravik.ui.fields import LineField
from cravik.ui.places import currency_choices


class OfferForm(forms.Form):
    """The purpose and the amount; ``amount`` in the cleaned data is ``Money``."""

    purpose = LineField(
        label="What is it for?",
        longest=MAX_TITLE_LENGTH,
        missing="Say what the payment is for; buyers see it.",
        widget=forms.TextInput(attrs={"autocomplete": "off", "placeholder": "Repair", "list": "item-names"}),
    )
    amount = forms.CharField(
        label="Amount",
        required=False,
        widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "placeholder": "24.00"}),
    )
    currency = forms.ChoiceField(label="Currency", choices=currency_choices)
    kind = forms.ChoiceField(
        label="Kind of price",
        choices=[(kind, part.label) for kind, part in PRICE_PARTS.items()],
        initial=FixedPricePart.kind,
        required=False,
    )

    #: What holds where no amount is typed: the price of the item that is sold.
    price_of_item: Money | None = None

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        currency = cleaned.get("currency")
        cleaned["kind"] = cleaned.get("kind") or FixedPricePart.kind
        if not str(cleaned.get("amount", "")).strip() and self.price_of_item:
            cleaned["amount"] = self.price_of_item
        elif currency and self.needs_amount:
            try:
                cleaned["amount"] = parse_amount(cleaned.get("amount", ""), currency)
            except CoreError as error:
                for fault in error.faults:
                    self.add_error("amount", forms.ValidationError(fault_words(fault), code=fault.code))
        return cleaned

    @property
    def needs_amount(self) -> bool:
        """Whether an amount is asked for: one price needs it, other kinds are decided on the bench."""
        return self.cleaned_data["kind"] == FixedPricePart.kind or bool(self.cleaned_data.get("amount", "").strip())

    @property
    def money(self) -> Money | None:
        """The amount of a valid form, if there is one."""
        return self.cleaned_data["amount"] or None
