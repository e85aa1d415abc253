"""What a seller types on an order's page."""

from __future__ import annotations

from secrets import token_urlsafe

from django import forms

from cravik.core.link.onward import is_web_address
from cravik.orders.acts.sent import MAX_NOTE_LENGTH
from cravik.orders.label_sheets import LABEL_SHEETS, USUAL_SHEET
from cravik.ui.fields import LineField, TextAreaField


class ParcelForm(forms.Form):
    """A parcel that was sent. ``press`` makes one sending one parcel, however often it is sent; ``seen`` is how many
    parcels there were."""

    carrier = LineField(label="Carrier", longest=60, missing="", required=False, help_text="Optional")
    tracking = LineField(
        label="Tracking number or address", longest=300, missing="", required=False, help_text="Optional"
    )
    tell = forms.BooleanField(label="Tell the buyer by letter", required=False, initial=True)
    press = forms.CharField(widget=forms.HiddenInput, max_length=22)
    seen = forms.IntegerField(widget=forms.HiddenInput, min_value=0)

    def __init__(self, data: object = None, *, parcels: int = 0) -> None:
        initial = {"press": token_urlsafe(12), "seen": parcels}
        super().__init__(data, initial=initial, prefix="parcel")  # type: ignore[arg-type]  # what was sent, or nothing

    def clean_tracking(self) -> str:
        typed: str = self.cleaned_data["tracking"]
        if "://" in typed and not is_web_address(typed):
            raise forms.ValidationError("Write a number, or an address that begins with https://.")
        return typed


class NoteForm(forms.Form):
    note = TextAreaField(
        label="Add a note",
        longest=MAX_NOTE_LENGTH,
        required=False,
        help_text="Only you and your team see it.",
        widget=forms.Textarea(attrs={"rows": 2}),
    )


class LabelsForm(forms.Form):
    """Which sheet of labels lies in the printer, and its first label that is free."""

    sheet = forms.ChoiceField(label="Sheet", choices=[(name, sheet.words) for name, sheet in LABEL_SHEETS.items()])
    first = forms.IntegerField(
        label="First free label",
        min_value=1,
        initial=1,
        help_text="Counted along each row, from the top left. 1 on a new sheet.",
    )

    def __init__(self, data: object = None) -> None:
        super().__init__(data, initial={"sheet": USUAL_SHEET})  # type: ignore[arg-type]  # what was sent, or nothing

    def clean(self) -> None:
        sheet, first = LABEL_SHEETS.get(self.cleaned_data.get("sheet", "")), self.cleaned_data.get("first")
        if sheet and first and first > sheet.labels:
            self.add_error("first", f"This sheet has {sheet.labels} labels.")
