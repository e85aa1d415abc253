"""Which kit a link has, where it is not the default."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import forms

from cravik.setup.models import Business, Kit


class LookForm(forms.Form):
    kit = forms.TypedChoiceField(label="Kit", coerce=int, widget=forms.RadioSelect)


class LookSheet:
    template = "setup/sheets/look.html"

    def __init__(self, data: Mapping[str, Any] | None, document: dict[str, Any], business: Business) -> None:
        self.form = LookForm(data, initial={"kit": document.get("id", 0)})
        kits = Kit.objects.filter(business=business).order_by("-is_default", "name")
        own = (0, "as Cravik comes")
        self.form.fields["kit"].choices = [*((kit.pk, kit.name) for kit in kits), own]  # type: ignore[attr-defined]
        self.document = document

    def is_valid(self) -> bool:
        if not self.form.is_valid():
            return False
        self.document = {"id": self.form.cleaned_data["kit"]}
        return True
