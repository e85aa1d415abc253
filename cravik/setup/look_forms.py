"""What a seller types about a look."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from urllib.parse import urlsplit

from django import forms

from cravik.core.errors import CoreError
from cravik.core.graphics.contrast import Colour
from cravik.core.graphics.palette import COLOURS
from cravik.core.text.faults import fault_words
from cravik.setup.look_services import starting_document
from cravik.setup.looks import CORNERS, TYPES
from cravik.ui.fields import LineField, Part, TextAreaField, all_valid, clean_web_address, form_rows

MAX_SOCIALS = 6
LABELS = {
    "ground": "Page",
    "sheet": "Fields and slip",
    "text": "Text",
    "link": "Links",
    "button": "Main button",
    "button_text": "Words on the button",
    "band": "Band",
    "band_text": "Words on the band",
}


class ColourField(forms.CharField):
    """A colour as hex, with its sign or without, as ``#a63a28``."""

    def __init__(self, **kwargs: Any) -> None:
        attributes = {"autocomplete": "off", "spellcheck": "false", "maxlength": "7"}
        super().__init__(max_length=20, widget=forms.TextInput(attrs=attributes), **kwargs)

    def clean(self, value: object) -> str:
        try:
            return Colour.from_hex(str(super().clean(value))).hex
        except CoreError as error:
            raise forms.ValidationError(fault_words(error.faults[0])) from None


class LookForm(forms.Form):
    name = LineField(label="Name, for your eyes", longest=60, missing="Give the look a name.")
    type = forms.ChoiceField(label="Type", choices=[(name, shown[0]) for name, shown in TYPES.items()])
    corners = forms.ChoiceField(label="Corners", choices=[(name, shown[0]) for name, shown in CORNERS.items()])
    header = LineField(
        label="A line on the band",
        longest=80,
        missing="",
        required=False,
        help_text="Beside your name, on top of every page. Optional.",
    )
    footer = TextAreaField(
        label="At the foot of the page",
        longest=400,
        required=False,
        widget=forms.Textarea(attrs={"rows": 2}),
        help_text="An address, opening hours. Optional.",
    )
    logo_words = LineField(
        label="The logo in words",
        longest=100,
        missing="",
        required=False,
        help_text="For people who can't see it. Leave blank if it only repeats your name.",
    )
    revision = forms.IntegerField(widget=forms.HiddenInput, min_value=1)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in COLOURS:
            self.fields[name] = ColourField(label=LABELS[name])

    def colour_fields(self) -> list[forms.BoundField]:
        return [self[name] for name in COLOURS]


class SocialForm(forms.Form):
    """Where else the seller is; without an address it is dropped."""

    name = LineField(label="Called", longest=40, missing="", required=False)
    address = forms.CharField(
        label="Address",
        required=False,
        max_length=300,
        widget=forms.TextInput(attrs={"inputmode": "url", "placeholder": "https://"}),
    )

    def clean_address(self) -> str:
        return clean_web_address(str(self.cleaned_data["address"]))

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        if cleaned.get("name") and not cleaned.get("address") and "address" not in self.errors:
            self.add_error("address", "Write the address that goes with this name.")
        return cleaned


class LookDesignSheet:
    """The whole page of a look."""

    def __init__(self, data: Mapping[str, Any] | None, name: str, document: Mapping[str, Any], revision: int) -> None:
        self.kept_document = document
        colours = document.get("colours") or starting_document()["colours"]
        plain = {each: document.get(each, "") for each in ("type", "corners", "header", "footer", "logo_words")}
        self.form = LookForm(data, initial={"name": name, "revision": revision, **colours, **plain})
        socials = [{"name": each["name"], "address": each["address"]} for each in document.get("socials", ())]
        self.socials = form_rows(SocialForm, MAX_SOCIALS, 1)(data, prefix="social", initial=socials)
        self.document: dict[str, Any] = dict(document)

    @property
    def parts(self) -> list[Part]:
        return [self.form, self.socials]

    def is_valid(self) -> bool:
        if not all_valid(self.parts):
            return False
        cleaned = self.form.cleaned_data
        socials = [
            {"name": row["name"] or urlsplit(row["address"]).hostname, "address": row["address"]}
            for row in (form.cleaned_data for form in self.socials.kept)
            if row.get("address")
        ]
        self.document = {
            "colours": {name: cleaned[name] for name in COLOURS},
            **{name: cleaned[name] for name in ("type", "corners")},
            **{name: cleaned[name] for name in ("header", "footer", "logo_words") if cleaned[name]},
            **({"socials": socials} if socials else {}),
            **{name: self.kept_document[name] for name in ("logo", "icon") if name in self.kept_document},
        }
        return True

    def document_as_typed(self) -> dict[str, Any]:
        """What of it can be read, for the sample that is shown while it is typed."""
        self.is_valid()
        cleaned = self.form.cleaned_data if hasattr(self.form, "cleaned_data") else {}
        document = dict(self.kept_document) or starting_document()
        colours = document["colours"] | {name: cleaned[name] for name in COLOURS if cleaned.get(name)}
        shown = {
            name: cleaned[name] for name in ("type", "corners", "header", "footer") if cleaned.get(name) is not None
        }
        return document | shown | {"colours": colours}
