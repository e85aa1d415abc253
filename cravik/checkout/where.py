"""Where the buyer is: asked where something is sent, or taxed by place."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from django import forms

from cravik.core.destination import Asked
from cravik.core.tax import Place
from cravik.setup.places import country_choices
from cravik.ui.fields import LineField, TextAreaField


class WhereForm(forms.Form):
    """The fields that ``asked`` names, and no others."""

    def __init__(self, data: Mapping[str, Any] | None, asked: Asked, supposed: Place | None, **kwargs: Any) -> None:
        super().__init__(data, **kwargs)
        self.asked = asked
        self.supposed = supposed
        if not asked.country:
            return
        if asked.address:
            self.fields["street"] = TextAreaField(
                label="Street and number",
                longest=200,
                error_messages={"required": "Write where it shall be sent."},
                widget=forms.Textarea(attrs={"rows": 2, "autocomplete": "shipping street-address"}),
            )
            self.fields["postcode"] = LineField(
                label="Postcode",
                longest=20,
                missing="",
                required=False,
                widget=forms.TextInput(attrs={"autocomplete": "shipping postal-code"}),
            )
            self.fields["town"] = LineField(
                label="Town",
                longest=100,
                missing="Write the town.",
                widget=forms.TextInput(attrs={"autocomplete": "shipping address-level2"}),
            )
        self.fields["country"] = forms.ChoiceField(
            label="Country",
            choices=[choice for choice in country_choices() if asked.serves(choice[0])],
            initial=supposed.country if supposed else None,
            widget=forms.Select(attrs={"autocomplete": "shipping country" if asked.address else "country"}),
            error_messages={"invalid_choice": "It is not sent there. Choose a country from the list."},
        )
        if regions := asked.regions_of(self._country()):
            self.fields["region"] = forms.ChoiceField(
                label="Region",
                choices=[("", "elsewhere in the country"), *((region, region) for region in regions)],
                required=False,
                initial=supposed.region if supposed else None,
            )
        if asked.tax_number:
            self.fields["tax_number"] = LineField(
                label="Tax number, if you buy as a firm",
                longest=30,
                missing="",
                required=False,
                help_text="A firm in another country accounts for the tax itself.",
                widget=forms.TextInput(attrs={"autocomplete": "off"}),
            )

    def _country(self) -> str:
        typed = self.data.get("country") or self.initial.get("country")
        return str(typed or (self.supposed.country if self.supposed else ""))

    def clean_tax_number(self) -> str:
        number = re.sub(r"[\s.-]", "", str(self.cleaned_data["tax_number"])).upper()
        if number and not re.fullmatch(r"[A-Z0-9]{5,20}", number, re.ASCII):
            raise forms.ValidationError("A tax number has 5 to 20 letters and digits, such as IE1234567FA.")
        return number

    @property
    def place(self) -> Place | None:
        """Where the buyer is, as far as it can be read yet: what was sent, else what is supposed."""
        if not self.asked.country:
            return None
        country = self._country()
        if country not in dict(self.fields["country"].choices):  # type: ignore[attr-defined]
            return self.supposed
        region = str(self.data.get("region") or self.initial.get("region") or "")
        return Place(country, region if region in self.asked.regions_of(country) else None)

    @property
    def tax_number(self) -> str | None:
        """The number as it was sent, if it can be one."""
        if not self.asked.tax_number:
            return None
        typed = re.sub(r"[\s.-]", "", str(self.data.get("tax_number") or self.initial.get("tax_number") or "")).upper()
        return typed if re.fullmatch(r"[A-Z0-9]{5,20}", typed, re.ASCII) else None

    @property
    def said(self) -> dict[str, str]:
        """What a valid form says, without what is empty."""
        return {name: value for name, value in self.cleaned_data.items() if value}
