"""What a seller decides about how codes look."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.graphics.qr.design import (
    EYES,
    LEAST_MIDDLE,
    MAX_CAPTION,
    MAX_QUIET,
    MAX_WORD,
    MIDDLES,
    MOST_MIDDLE,
    SHAPES,
    CodeDesign,
)
from cravik.setup.look_forms import ColourField
from cravik.share.codes.faces import unwritable
from cravik.share.codes.files import MAX_MM, MIN_MM
from cravik.ui.fields import CountField, LineField


class DesignForm(forms.Form):
    """A design as it is typed; once valid, ``design`` is what it says."""

    dark = ColourField(label="Modules")
    eyes = ColourField(label="Corners")
    light = ColourField(label="Ground")
    shape = forms.ChoiceField(label="Shape of the modules", choices=list(SHAPES.items()))
    eye_shape = forms.ChoiceField(label="Shape of the corners", choices=list(EYES.items()))
    middle = forms.ChoiceField(label="In the middle", choices=list(MIDDLES.items()))
    word = LineField(
        label="The word", longest=MAX_WORD, missing="", required=False, help_text=f"Up to {MAX_WORD} letters."
    )
    picture = forms.FileField(
        label="A picture",
        required=False,
        help_text="JPEG, PNG or WebP.",
        widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
    )
    middle_width = CountField(label="How wide, in % of the QR code", least=LEAST_MIDDLE, most=MOST_MIDDLE)
    caption = LineField(
        label="Caption under it",
        longest=MAX_CAPTION,
        missing="",
        required=False,
        widget=forms.TextInput(attrs={"placeholder": "Scan to pay"}),
    )
    quiet = CountField(label="Margin, in modules", least=0, most=MAX_QUIET)
    width_mm = CountField(label="Printed how wide, in mm", least=MIN_MM, most=MAX_MM)
    revision = forms.IntegerField(widget=forms.HiddenInput, min_value=0)

    @classmethod
    def initial_of(cls, design: CodeDesign, width_mm: int, revision: int) -> dict[str, Any]:
        return design.document | {"width_mm": width_mm, "revision": revision}

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        for name in ("word", "caption"):
            if strange := unwritable(cleaned.get(name, "")):
                self.add_error(name, f"There are no letters here for “{strange[:10]}”. Latin letters can be drawn.")
        if cleaned.get("middle") == "word" and not cleaned.get("word") and not self.has_error("word"):
            self.add_error("word", "Write the word, or choose another middle.")
        for name in ("middle_width", "quiet", "width_mm"):
            if cleaned.get(name) is None and not self.has_error(name):
                self.add_error(name, "Write a whole number.")
        return cleaned

    @property
    def design(self) -> CodeDesign:
        """What was typed, as far as it can be read; usual where it cannot."""
        cleaned = getattr(self, "cleaned_data", {})
        return CodeDesign.of({name: value for name, value in cleaned.items() if value is not None})
