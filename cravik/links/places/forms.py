"""What a seller types of a link's name and address."""

from __future__ import annotations

from django import forms

from cravik.links.places.naming import MAX_NAME_LENGTH, is_slug, slug_from
from cravik.ui.fields import LineField


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
