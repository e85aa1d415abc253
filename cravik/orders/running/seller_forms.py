"""The forms on a seller's page of what runs."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from django import forms

from cravik.core.pricing.money import Money
from cravik.ui.fields import AmountField, LineField, clean_amount

_NO_DAY = {"required": "Choose the day.", "invalid": "Write a day, such as 2027-04-01."}


class DayField(forms.DateField):
    def __init__(self, label: str) -> None:
        super().__init__(label=label, widget=forms.DateInput(attrs={"type": "date"}), error_messages=_NO_DAY)


class ChangeForm(forms.Form):
    """Another day or a lower sum for one due."""

    on = DayField("Day")
    amount = AmountField(label="Sum")

    def __init__(self, on: date, amount: Money, data: object = None, prefix: str | None = None) -> None:
        self.before, self.was = amount, on
        super().__init__(
            data,  # type: ignore[arg-type]  # what was sent, or nothing
            prefix=prefix,
            initial={"on": on, "amount": amount.major},
        )

    def clean(self) -> None:
        amount = clean_amount(self, "amount", self.before.currency, "Write the sum.")
        if amount is not None and amount.minor > self.before.minor:
            self.add_error("amount", "More than was agreed can't be taken. Lower it, or leave it.")
        self.cleaned_data["amount"] = amount


class ProposalForm(forms.Form):
    """Another sum for each payment from a day on."""

    amount = AmountField(label="Each payment")
    on = DayField("From")
    words = LineField(label="Why", longest=300, missing="", required=False)

    def __init__(self, currency: str, data: object = None, initial: Mapping[str, object] | None = None) -> None:
        self.currency = currency
        super().__init__(data, prefix="new", initial=initial)  # type: ignore[arg-type]

    def clean(self) -> None:
        amount = clean_amount(self, "amount", self.currency, "Write the sum.")
        if amount is not None and amount.minor <= 0:
            self.add_error("amount", "Write a sum above nothing.")
        self.cleaned_data["amount"] = amount


class SumForm(forms.Form):
    """A sum of its own, charged to the card that is kept."""

    amount = AmountField(label="Sum")
    reason = LineField(label="What it is for", longest=200, missing="Say what it is for; the buyer reads it.")
    on = DayField("On")

    def __init__(self, currency: str, data: object = None, initial: Mapping[str, object] | None = None) -> None:
        self.currency = currency
        super().__init__(data, prefix="sum", initial=initial)  # type: ignore[arg-type]

    def clean(self) -> None:
        amount = clean_amount(self, "amount", self.currency, "Write the sum.")
        if amount is not None and amount.minor <= 0:
            self.add_error("amount", "Write a sum above nothing.")
        self.cleaned_data["amount"] = amount
