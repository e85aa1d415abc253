"""What a seller types on the bench."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django import forms

from cravik.catalogue.models import Item
from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import MAX_TITLE_LENGTH
from cravik.core.pricing.tax import STANDARD
from cravik.core.text.amount_text import parse_amount, parse_signed_amount
from cravik.links.models import Link, items_of_draft
from cravik.links.naming import MAX_NAME_LENGTH, is_slug, slug_from
from cravik.links.services import DraftTyped, LineTyped
from cravik.setup.places import currency_choices
from cravik.ui.fields import GramsField, LineField, TextAreaField

MAX_WORDS_LENGTH = 1000


class OfferForm(forms.Form):
    """The purpose and the amount; ``amount`` in the cleaned data is ``Money``."""

    purpose = LineField(
        label="What is it for?",
        longest=MAX_TITLE_LENGTH,
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
                cleaned["amount"] = parse_amount(cleaned.get("amount", ""), currency)
            except CoreError as error:
                for fault in error.faults:
                    self.add_error("amount", forms.ValidationError(fault.message, code=fault.code))
        return cleaned

    @property
    def money(self) -> Money:
        """The amount of a valid form."""
        return self.cleaned_data["amount"]  # type: ignore[no-any-return]  # a form's cleaned data is untyped


def _price(typed: str, currency: str) -> Money:
    """A price as it was typed; nothing is a price too. Raises ``AmountRefused``."""
    amount = parse_signed_amount(typed, currency) if typed.strip() else parse_amount(typed, currency)
    return amount if amount.minor >= 0 else parse_amount(typed, currency)


class DraftForm(forms.Form):
    """The whole bench of a link: its title, words and currency, the fields of each line, and the revision that the page
    showed. A line's fields are named ``FIELD.LINE``."""

    words = TextAreaField(
        label="A few words",
        longest=MAX_WORDS_LENGTH,
        required=False,
        help_text="Under the name. *Emphasis*, **strong**, lists and links are understood. Optional.",
        widget=forms.Textarea(attrs={"rows": 4}),
    )
    revision = forms.IntegerField(widget=forms.HiddenInput, min_value=1)

    def __init__(self, link: Link, data: Mapping[str, Any] | None = None) -> None:
        self.link = link
        self.items = items_of_draft(link)
        self.line_keys = [line["key"] for line in link.draft["offer"]["lines"]]
        super().__init__(data, initial=self._initial())
        has_own_title = len(self.line_keys) > 1 or not self.items
        if has_own_title:
            label = "What is it for?" if len(self.line_keys) == 1 else "What the whole is called"
            self.fields["title"] = LineField(
                label=label,
                longest=MAX_TITLE_LENGTH,
                missing="Say what the payment is for; buyers see it.",
                widget=forms.TextInput(attrs={"autocomplete": "off"}),
            )
        self.fields["currency"] = forms.ChoiceField(label="Currency", choices=currency_choices)
        for line in self._lines():
            self.fields.update(self._fields_of(line))

    def _lines(self) -> list[dict[str, Any]]:
        lines: list[dict[str, Any]] = self.link.draft["offer"]["lines"]
        return lines

    def _fields_of(self, line: Mapping[str, Any]) -> dict[str, forms.Field]:
        key = line["key"]
        fields: dict[str, forms.Field] = {}
        if line.get("price", {}).get("kind", "fixed") == "fixed":
            fields[f"amount.{key}"] = forms.CharField(
                label="Amount",
                required=False,
                widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "placeholder": "24.00"}),
            )
        if key in self.items:
            return fields
        if len(self.line_keys) > 1:
            fields[f"name.{key}"] = LineField(label="Name", longest=MAX_TITLE_LENGTH, missing="Say what it is.")
        fields[f"ships.{key}"] = forms.BooleanField(label="It is sent to the buyer", required=False)
        fields[f"weight_g.{key}"] = GramsField(label="Weight in grams")
        fields[f"tax_category.{key}"] = LineField(
            label="Tax category", longest=40, missing="", required=False, help_text="As the rates in Setup name it."
        )
        return fields

    def _initial(self) -> dict[str, Any]:
        draft = self.link.draft
        offer = draft["offer"]
        initial = {
            "title": offer.get("title", ""),
            "currency": offer["currency"],
            "words": draft.get("page", {}).get("words", ""),
            "revision": self.link.revision,
        }
        for line in offer["lines"]:
            key, price = line["key"], line.get("price", {})
            initial |= {
                f"amount.{key}": price.get("amount", "") if price.get("kind") == "fixed" else "",
                f"name.{key}": line.get("name", ""),
                f"ships.{key}": line.get("ships", False),
                f"weight_g.{key}": line.get("weight_g", ""),
                f"tax_category.{key}": line.get("tax_category", STANDARD),
            }
        return initial

    def line_fields(self) -> list[LineFields]:
        """The fields of each line, with what a page says of it."""
        return [
            LineFields(
                key=line["key"],
                name=line.get("name", ""),
                item=self.items.get(line["key"]),
                amount=self._bound(f"amount.{line['key']}"),
                named=self._bound(f"name.{line['key']}"),
                ships=self._bound(f"ships.{line['key']}"),
                weight=self._bound(f"weight_g.{line['key']}"),
                category=self._bound(f"tax_category.{line['key']}"),
            )
            for line in self._lines()
        ]

    def _bound(self, name: str) -> forms.BoundField | None:
        return self[name] if name in self.fields else None

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        currency = cleaned.get("currency")
        for name in [name for name in self.fields if name.startswith("amount.")] if currency else []:
            try:
                cleaned[name] = _price(str(cleaned.get(name) or ""), str(currency))
            except CoreError as error:
                for fault in error.faults:
                    self.add_error(name, forms.ValidationError(fault.message, code=fault.code))
        return cleaned

    @property
    def typed(self) -> DraftTyped:
        """What a valid form says."""
        cleaned = self.cleaned_data
        return DraftTyped(
            title=cleaned.get("title", self.link.title),
            currency=cleaned["currency"],
            words=cleaned["words"],
            lines={
                key: LineTyped(
                    name=cleaned.get(f"name.{key}", ""),
                    amount=cleaned.get(f"amount.{key}"),
                    ships=cleaned.get(f"ships.{key}", False),
                    weight_g=cleaned.get(f"weight_g.{key}", 0),
                    tax_category=(cleaned.get(f"tax_category.{key}") or STANDARD).lower(),
                )
                for key in self.line_keys
            },
        )


@dataclass(frozen=True)
class LineFields:
    """One line on the bench; a field that it does not have is None."""

    key: str
    name: str
    item: Item | None
    amount: forms.BoundField | None
    named: forms.BoundField | None
    ships: forms.BoundField | None
    weight: forms.BoundField | None
    category: forms.BoundField | None


class NameForm(forms.Form):
    """The name by which the seller knows the link."""

    name = LineField(label="Name, for your eyes", longest=MAX_NAME_LENGTH, missing="Give the link a name.")


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
