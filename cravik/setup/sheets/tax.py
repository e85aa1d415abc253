"""Tax by place, in prices or on top of them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import forms

from cravik.core.documents.defaults import read_defaults, write_defaults
from cravik.core.pricing.defaults import OfferDefaults
from cravik.core.pricing.tax import STANDARD, TaxRate, TaxRules
from cravik.people.models import Business
from cravik.setup.tax_example import TaxExample, tax_example
from cravik.ui.fields import LineField, Part, PercentField, all_valid, clean_line, form_rows
from cravik.ui.places import country_choices

MAX_RATES = 60
NONE, INCLUDED, ON_TOP = "none", "included", "on_top"


class TaxForm(forms.Form):
    how = forms.ChoiceField(
        label="Tax on what you sell",
        choices=[
            (NONE, "I charge no tax"),
            (INCLUDED, "Prices include tax"),
            (ON_TOP, "Tax is added to prices"),
        ],
        widget=forms.RadioSelect,
    )


class RateForm(forms.Form):
    """One rate."""

    country = forms.ChoiceField(label="Country", choices=country_choices)
    region = LineField(label="Region", longest=120, missing="", required=False)
    name = LineField(label="Name", longest=40, missing="", required=False)
    percent = PercentField(label="Per cent", required=False)
    categories = LineField(label="Categories", longest=200, missing="", required=False)
    reverse_charge = forms.BooleanField(
        label="Exempt foreign businesses with a tax number",
        required=False,
        help_text="You owe the tax if it was wrongly left out. The number is checked by its country's check digits, not"
        " in a register.",
    )

    def __init__(self, *args: Any, home: str, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["country"].initial = home
        self.fields["categories"].initial = STANDARD


class TaxSheet:
    template = "setup/sheets/tax.html"

    def __init__(
        self, data: Mapping[str, Any] | None, document: dict[str, Any], business: Business, currency: str = ""
    ) -> None:
        defaults = read_defaults(document)
        rules = defaults.tax
        self.business = business
        self.currency = currency or business.currency
        self.document: dict[str, Any] = document
        how = NONE if not rules or not rules.rates else INCLUDED if rules.prices_include_tax else ON_TOP
        self.form = TaxForm(data, initial={"how": how})
        self.rules = rules
        rows = [
            {
                "country": rate.country,
                "region": rate.region or "",
                "name": rate.name,
                "percent": rate.percent.text,
                "categories": ", ".join(rate.categories),
                "reverse_charge": rate.reverse_charge,
            }
            for rate in (rules.rates if rules else ())
        ]
        home = {"home": business.country}
        self.rates = form_rows(RateForm, MAX_RATES, 1)(data, prefix="rate", initial=rows, form_kwargs=home)

    def is_valid(self) -> bool:
        is_read = all_valid(self.parts)
        rates = [rate for rate in map(self._rate, self.rates.kept) if rate]
        if not is_read or any(row.errors for row in self.rates):
            return False
        how = self.form.cleaned_data["how"]
        if how != NONE and not rates:
            self.form.add_error("how", "Write at least one rate below, or say that you charge no tax.")
            return False
        kept = tuple(rates) if how != NONE else ()
        rules = TaxRules(self.business.country, kept, prices_include_tax=how == INCLUDED)
        self.document = write_defaults(OfferDefaults(self.currency, tax=rules))
        self.rules = rules
        return True

    @property
    def example(self) -> TaxExample | None:
        """A sale under the rates that hold, or that were typed where they can be read."""
        return tax_example(self.rules, self.currency) if self.rules else None

    @property
    def parts(self) -> list[Part]:
        return [self.form, self.rates]

    def _rate(self, row: forms.Form) -> TaxRate | None:
        typed = row.cleaned_data
        if row.errors:
            return None
        if typed.get("percent") is None:
            row.add_error("percent", "Write the percentage (0 is possible), or remove the row.")
            return None
        categories = [clean_line(each).lower() for each in typed["categories"].split(",")]
        return TaxRate(
            country=typed["country"],
            name=typed["name"] or "Tax",
            percent=typed["percent"],
            region=typed["region"] or None,
            categories=tuple(dict.fromkeys(filter(None, categories))) or (STANDARD,),
            reverse_charge=typed["reverse_charge"],
        )
