"""What a seller types on the bench."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.amount_text import read_amount
from cravik.core.errors import CoreError
from cravik.core.money import Money
from cravik.core.offer import LONGEST_TITLE
from cravik.core.tax import STANDARD
from cravik.links.models import Link
from cravik.links.naming import LONGEST_NAME, is_slug, slug_from
from cravik.links.services import DraftTyped
from cravik.setup.places import currency_choices
from cravik.ui.fields import GramsField, LineField, TextAreaField

LONGEST_WORDS = 1000


class OfferForm(forms.Form):
    """The purpose and the amount; ``amount`` in the cleaned data is ``Money``."""

    purpose = LineField(
        label="What is it for?",
        longest=LONGEST_TITLE,
        missing="Say what the payment is for; buyers see it.",
        widget=forms.TextInput(attrs={"autocomplete": "off", "placeholder": "Kite repair"}),
    )
    amount = forms.CharField(
        label="Amount",
        required=False,
        widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "placeholder": "24.00"}),
    )
    currency = forms.ChoiceField(label="Currency", choices=currency_choices)

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        currency = cleaned.get("currency")
        if currency:
            try:
                cleaned["amount"] = read_amount(cleaned.get("amount", ""), currency)
            except CoreError as error:
                for fault in error.faults:
                    self.add_error("amount", forms.ValidationError(fault.message, code=fault.code))
        return cleaned

    @property
    def money(self) -> Money:
        """The amount of a valid form."""
        return self.cleaned_data["amount"]  # type: ignore[no-any-return]


class DraftForm(OfferForm):
    """The whole bench of a link: its terms and words, and the revision that the page showed."""

    words = TextAreaField(
        label="A few words",
        longest=LONGEST_WORDS,
        required=False,
        help_text="Under the name. *Emphasis*, **strong**, lists and links are understood. Optional.",
        widget=forms.Textarea(attrs={"rows": 4}),
    )
    ships = forms.BooleanField(label="It is sent to the buyer", required=False)
    weight_g = GramsField(label="It weighs, in grams")
    tax_category = LineField(
        label="Tax category", longest=40, missing="", required=False, help_text="As the rates in Setup name it."
    )
    revision = forms.IntegerField(widget=forms.HiddenInput, min_value=1)

    @property
    def typed(self) -> DraftTyped:
        """What a valid form says."""
        said = self.cleaned_data
        return DraftTyped(
            said["purpose"],
            self.money,
            said["words"],
            said["ships"],
            said["weight_g"],
            said["tax_category"].lower() or STANDARD,
        )

    @classmethod
    def for_link(cls, link: Link) -> DraftForm:
        offer = link.offer
        line = offer.lines[0]
        amount = line.price.amount
        return cls(
            initial={
                "purpose": offer.title,
                "amount": amount.major,
                "currency": amount.currency,
                "words": link.words,
                "ships": line.ships,
                "weight_g": line.weight_g or "",
                "tax_category": line.tax_category,
                "revision": link.revision,
            }
        )


class NameForm(forms.Form):
    """The name by which the seller knows the link."""

    name = LineField(label="Name, for your eyes", longest=LONGEST_NAME, missing="Give the link a name.")


class AddressForm(forms.Form):
    """The readable words in the link's address."""

    slug = forms.CharField(label="Address", error_messages={"required": "Write at least one word."}, max_length=200)

    def clean_slug(self) -> str:
        slug = str(self.cleaned_data["slug"]).strip().lower().replace(" ", "-")
        if not is_slug(slug):
            raise forms.ValidationError(
                f"An address is up to 60 letters a–z, digits and single hyphens, such as “{slug_from(slug)}”."
            )
        return slug
