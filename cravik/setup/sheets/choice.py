"""Which look or which terms a link has, where they are not the default's."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from django import forms

from cravik.people.models import Business
from cravik.setup.models import Look, Terms
from cravik.setup.sheets.one_form import OneForm


class _ChoiceSheet(OneForm):
    """One of several that Setup keeps, or none of them."""

    template = "setup/sheets/choice.html"
    label: str
    none: str

    def __init__(
        self, data: Mapping[str, Any] | None, document: dict[str, Any], business: Business, currency: str = ""
    ) -> None:
        self.form = forms.Form(data, initial={"chosen": document.get("id", 0)})
        self.form.fields["chosen"] = forms.TypedChoiceField(
            label=self.label,
            coerce=int,
            choices=[*self.kept_in(business), (0, self.none)],
            widget=forms.RadioSelect,
        )
        self.document = document

    def kept_in(self, business: Business) -> Sequence[tuple[int, str]]:
        raise NotImplementedError

    def is_valid(self) -> bool:
        if not self.form.is_valid():
            return False
        self.document = {"id": self.form.cleaned_data["chosen"]}
        return True


class LookSheet(_ChoiceSheet):
    label = "Look"
    none = "Cravik's default"

    def kept_in(self, business: Business) -> Sequence[tuple[int, str]]:
        return [(look.pk, look.name) for look in Look.objects.filter(business=business).order_by("-is_default", "name")]


class TermsSheet(_ChoiceSheet):
    label = "Terms"
    none = "none: buyers agree to nothing"

    def kept_in(self, business: Business) -> Sequence[tuple[int, str]]:
        kept = Terms.objects.filter(business=business, archived=False).order_by("-is_default", "name")
        return [(each.pk, each.name) for each in kept]
