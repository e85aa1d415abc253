"""The tick beside the terms, where there are any."""

from __future__ import annotations

from django import forms

from cravik.checkout.parts.base import OrderPart, tick


class AgreePart(OrderPart):
    name = "agree"
    template = "checkout/parts/agree.html"
    step = "Consent"

    def add_fields(self) -> None:
        if self.offered.version.agreed:
            self.fields["agree"] = tick("I agree")

    def fillable(self) -> set[str]:
        return set()

    def clean_agree(self) -> bool:
        agreed = self.offered.version.agreed
        if agreed and not self.cleaned_data["agree"]:
            raise forms.ValidationError(f"Tick this to agree to the {agreed.name}.")
        return bool(self.cleaned_data["agree"])
