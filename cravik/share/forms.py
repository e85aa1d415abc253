"""What a seller types about spots."""

from __future__ import annotations

import re
from typing import Any
from urllib.parse import urlsplit

from django import forms

from cravik.links.places.spots import MAX_SPOT_NAME
from cravik.ui.fields import LineField, TextAreaField, clean_line, clean_web_address

#: Names in one pasted list.
MAX_PASTED = 500
_LONGEST_LIST = MAX_PASTED * (MAX_SPOT_NAME + 2)


class SpotForm(forms.Form):
    """One new spot."""

    name = LineField(
        label="Where will it be?",
        longest=MAX_SPOT_NAME,
        missing="Say where it will be, such as “Stall sign”.",
        widget=forms.TextInput(
            attrs={"autocomplete": "off", "placeholder": "Stall sign, or: a spot for the library, one for the kiosk"}
        ),
    )


class ManySpotsForm(forms.Form):
    """A pasted list of names, one a line; ``names`` in the cleaned data is the list."""

    names = TextAreaField(
        label="One place a line",
        longest=_LONGEST_LIST,
        widget=forms.Textarea(attrs={"rows": 5, "placeholder": "Stall sign\nWinter newsletter\nClub page"}),
        error_messages={"required": "Paste the names of the places, one a line."},
    )

    def clean_names(self) -> list[str]:
        lines = (clean_line(line).strip() for line in str(self.cleaned_data["names"]).splitlines())
        names = list(dict.fromkeys(line for line in lines if line))
        if len(names) > MAX_PASTED:
            raise forms.ValidationError(f"These are {len(names):,} places; {MAX_PASTED} can be made at once.")
        if long := next((name for name in names if len(name) > MAX_SPOT_NAME), ""):
            raise forms.ValidationError(f"“{long[:30]}…” has {len(long)} characters; the most is {MAX_SPOT_NAME}.")
        return names


class DescribeForm(forms.Form):
    """What a spot is called and where it hangs."""

    name = LineField(label="Name", longest=MAX_SPOT_NAME, missing="A spot needs a name.")
    note = LineField(
        label="Location note",
        longest=300,
        missing="",
        required=False,
        help_text="Only you see it: “left of the till, at eye level”.",
    )
    photo = forms.FileField(
        label="A photo of it",
        required=False,
        help_text="JPEG, PNG or WebP, up to 20 MB.",
        widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
    )


class EndForm(forms.Form):
    """Where an ended spot leads to."""

    leads_to = forms.CharField(
        label="Lead people on to",
        required=False,
        max_length=290,  # and eight for the scheme
        widget=forms.TextInput(attrs={"inputmode": "url", "placeholder": "https://"}),
        help_text="A page of yours. Left blank, they land on the link's page.",
    )

    def clean_leads_to(self) -> str:
        address = clean_web_address(str(self.cleaned_data["leads_to"]))
        if re.search(r"/k/[a-z0-9]{6}/?$", urlsplit(address).path, re.IGNORECASE):
            raise forms.ValidationError("That is a spot's address. To point this one at another link, move it.")
        return address


def first_fault(form: forms.Form) -> str:
    """The first sentence of what is wrong with the form."""
    errors: dict[str, Any] = form.errors
    return str(next(iter(errors.values()))[0])
