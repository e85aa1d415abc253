"""Whom the buyers of one link ask, and what their statement says."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from cravik.people.models import Business
from cravik.setup.contact import contact_of
from cravik.setup.forms import ContactForm
from cravik.setup.sheets.one_form import OneForm


class ContactSheet(OneForm):
    template = "setup/sheets/contact.html"

    def __init__(
        self, data: Mapping[str, Any] | None, document: dict[str, Any], business: Business, currency: str = ""
    ) -> None:
        self.form = ContactForm(data, initial=dict(contact_of(business, document)))
        self.document = document

    def is_valid(self) -> bool:
        if not self.form.is_valid():
            return False
        self.document = dict(self.form.cleaned_data)
        return True
