"""The card. Only its last four digits are ever kept."""

from __future__ import annotations

import re
import unicodedata
from typing import Any

from django import forms
from stdnum import luhn

from cravik.checkout.parts.base import OrderPart, Submitted, TypedCard
from cravik.setup.ways import CARD


class _NeverShown(forms.TextInput):
    """A field that never comes back filled in."""

    def format_value(self, value: Any) -> None:
        return None


class CardFields(forms.Form):
    """The fields of a card, and how they are read; a subclass says when there are any."""

    #: Whether what is typed in them is looked at.
    takes_card = True

    def add_card(self) -> None:
        self.fields["card_number"] = forms.CharField(
            label="Card number",
            max_length=40,
            widget=forms.TextInput(attrs={"autocomplete": "cc-number", "inputmode": "numeric", "data-in-fours": ""}),
            error_messages={"required": "Write the number on the front of the card."},
        )
        self.fields["expiry"] = forms.CharField(
            label="Expiry",
            max_length=12,
            widget=forms.TextInput(attrs={"autocomplete": "cc-exp", "inputmode": "numeric", "placeholder": "MM/YY"}),
            error_messages={"required": "Write month and year, such as 09/31."},
        )
        self.fields["security_code"] = forms.CharField(
            label="Security code",
            max_length=8,
            widget=_NeverShown(attrs={"autocomplete": "cc-csc", "inputmode": "numeric"}),
            error_messages={"required": "Write the 3 digits of the security code."},
        )

    @property
    def typed_card(self) -> TypedCard:
        """Of a form that is valid."""
        typed = self.cleaned_data
        return TypedCard(typed["card_number"], typed["expiry"], typed["security_code"])

    def clean_card_number(self) -> str:
        if not self.takes_card:
            return ""
        digits = re.sub(r"[\s\-–.]", "", _plain(self.cleaned_data["card_number"]))
        if not re.fullmatch(r"\d{12,19}", digits, re.ASCII):
            raise forms.ValidationError("A card number has 12 to 19 digits.")
        if not luhn.is_valid(digits):
            raise forms.ValidationError("A digit of the card number is mistyped: its check digit does not fit.")
        return digits

    def clean_expiry(self) -> tuple[int, int]:
        if not self.takes_card:
            return (0, 0)
        found = re.fullmatch(
            r"(\d{1,2})\s*[/\-. ]?\s*(\d{4}|\d{2})", _plain(self.cleaned_data["expiry"]).strip(), re.ASCII
        )
        if found is None or not 1 <= int(found[1]) <= 12:
            raise forms.ValidationError("Write month and year, such as 09/31.")
        year = int(found[2])
        return int(found[1]), year if year >= 100 else 2000 + year

    def clean_security_code(self) -> str:
        if not self.takes_card:
            return ""
        code = _plain(self.cleaned_data["security_code"]).strip()
        if not re.fullmatch(r"\d{3,4}", code, re.ASCII):
            raise forms.ValidationError("The security code has 3 or 4 digits.")
        return code


class CardPart(CardFields, OrderPart):
    name = "card"
    template = "checkout/parts/card.html"
    step = "Card"
    fixed = ("*",)
    is_kept = False
    way = CARD

    def add_fields(self) -> None:
        if self.way in self.offered.ways:
            self.add_card()

    def fillable(self) -> set[str]:
        return set()

    def submit(self, to: Submitted) -> None:
        to.means = self.typed_card


def _plain(text: Any) -> str:
    return unicodedata.normalize("NFKC", str(text))
