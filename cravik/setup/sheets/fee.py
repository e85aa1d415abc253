"""What the processor takes of each payment."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import forms

from cravik.core.documents.defaults import read_defaults, write_defaults
from cravik.core.pricing.defaults import OfferDefaults
from cravik.core.pricing.fees import Fee
from cravik.people.models import Business
from cravik.setup.sheets.one_form import OneForm
from cravik.ui.fields import AmountField, PercentField, clean_amount


class FeeForm(forms.Form):
    percent = PercentField(
        label="Per cent of what is paid", error_messages={"required": "Write the amount; 0 is possible."}
    )
    fixed = AmountField(label="And a fixed sum each time")


class FeeSheet(OneForm):
    template = "setup/sheets/fee.html"

    def __init__(
        self, data: Mapping[str, Any] | None, document: dict[str, Any], business: Business, currency: str = ""
    ) -> None:
        defaults = read_defaults(document)
        self.currency = currency or business.currency
        fee = defaults.fee_in(self.currency)
        self.buyer_may_cover = fee.buyer_may_cover if fee else False  # which no field of the sheet changes
        initial = {"percent": fee.percent.text, "fixed": fee.fixed.major} if fee else {}
        self.form = FeeForm(data, initial=initial)
        self.document: dict[str, Any] = document

    def is_valid(self) -> bool:
        if not self.form.is_valid():
            return False
        fixed = clean_amount(self.form, "fixed", self.currency, "Write the amount; 0 is possible.")
        if fixed is None:
            return False
        fee = Fee(self.form.cleaned_data["percent"], fixed, self.buyer_may_cover)
        self.document = write_defaults(OfferDefaults(self.currency, fee=fee))
        return True
