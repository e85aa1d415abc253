"""What a seller types about buttons on pages of others."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.graphics.button import ALIGNS, HOVERS, LETTERS, MAX_WORDS, OPENS, SHOWS, SIZES, WIDTHS, ButtonDesign
from cravik.core.link.sites import site_in
from cravik.setup.look_forms import ColourField
from cravik.setup.looks import CORNERS
from cravik.ui.fields import LineField

_URL = {"inputmode": "url", "autocomplete": "off", "autocapitalize": "none", "spellcheck": "false"}


class OptionalColourField(ColourField):
    """A colour, or nothing for that of the look."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(required=False, **kwargs)

    def clean(self, value: object) -> str:
        return super().clean(value) if str(value or "").strip() else ""


class ButtonForm(forms.Form):
    """A button's design as it is typed; ``design`` is what it says, as far as it can be read."""

    shows = forms.ChoiceField(label="What people see", choices=list(SHOWS.items()))
    words = LineField(
        label="Words on the button",
        longest=MAX_WORDS,
        missing="",
        required=False,
        help_text="Left empty, they are made from what you sell.",
    )
    says_price = forms.BooleanField(label="With the price", required=False)
    ground = OptionalColourField(label="Colour")
    ink = OptionalColourField(label="Words")
    corners = forms.ChoiceField(
        label="Corners",
        required=False,
        choices=[("", "As in the look"), *((name, shown[0].capitalize()) for name, shown in CORNERS.items())],
    )
    size = forms.ChoiceField(label="Size", choices=list(SIZES.items()))
    width = forms.ChoiceField(label="Width", choices=list(WIDTHS.items()))
    align = forms.ChoiceField(label="Position", choices=list(ALIGNS.items()))
    hover = forms.ChoiceField(label="When pointed at", choices=list(HOVERS.items()))
    letters = forms.ChoiceField(label="Typeface", choices=list(LETTERS.items()))
    opens = forms.ChoiceField(label="It opens", choices=list(OPENS.items()))
    picture = forms.FileField(
        label="A picture of your own, for newsletters",
        required=False,
        help_text="JPEG, PNG or WebP. It stands in the place of the drawn button where no script runs.",
        widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
    )
    remove_picture = forms.BooleanField(label="Remove the picture", required=False)
    revision = forms.IntegerField(widget=forms.HiddenInput, min_value=0)

    @property
    def design(self) -> ButtonDesign:
        cleaned = getattr(self, "cleaned_data", {})
        return ButtonDesign.of({name: value for name, value in cleaned.items() if value is not None})


class SiteForm(forms.Form):
    """A site on which links may open."""

    site = forms.CharField(
        label="Site",
        max_length=500,
        widget=forms.TextInput(attrs=_URL | {"placeholder": "your-name.example"}),
        error_messages={"required": "Write a site such as your-name.example."},
    )
    subdomains = forms.BooleanField(label="And all names below it, such as shop.your-name.example", required=False)

    def clean_site(self) -> str:
        return _site(self.cleaned_data["site"])


class ArrivalForm(forms.Form):
    """The page that a button was put on."""

    page = forms.CharField(
        label="Address of the page",
        max_length=400,
        widget=forms.TextInput(attrs=_URL | {"placeholder": "https://"}),
        error_messages={"required": "Write the address of the page."},
    )

    def clean_page(self) -> str:
        address = str(self.cleaned_data["page"]).strip()
        _site(address)
        return address if "://" in address else f"https://{address}"


def _site(typed: object) -> str:
    host = site_in(str(typed))
    if not host:
        raise forms.ValidationError("Write a site such as your-name.example, or the address of a page on it.")
    return host
