"""What a seller types about the stock of an item and the pictures of its options."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.catalogue.models import Item, Option
from cravik.catalogue.stock import StockDraft, StockRow
from cravik.ui.fields import LineField

_MAX = 1_000_000


def _count(label: str) -> forms.IntegerField:
    return forms.IntegerField(
        label=label,
        required=False,
        min_value=-_MAX,
        max_value=_MAX,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
        error_messages={"invalid": "Write a whole number.", "max_value": f"The most is {_MAX:,}."},
    )


class StockForm(forms.Form):
    """One variant's row."""

    code = LineField(label="Code", longest=40, missing="", required=False)
    count = _count("In stock")
    seen_count = forms.IntegerField(widget=forms.HiddenInput, required=False)
    tell_at = _count("Warn me at")
    sells_beyond = forms.BooleanField(label="Keep selling at 0", required=False)

    def __init__(self, data: Any, row: StockRow) -> None:
        variant = row.variant
        names = ("code", "count", "tell_at", "sells_beyond")
        initial = {name: getattr(variant, name) for name in names} | {"seen_count": variant.count}
        super().__init__(data, prefix=f"row-{variant.pk}", initial=initial)
        self.row = row
        self.fields["code"].widget.attrs["placeholder"] = row.proposed_code

    def clean_tell_at(self) -> int | None:
        tell_at: int | None = self.cleaned_data["tell_at"]
        if tell_at is not None and tell_at < 0:
            raise forms.ValidationError("The least is 0.")
        return tell_at

    @property
    def draft(self) -> StockDraft:
        return StockDraft(self.row.variant.pk, **self.cleaned_data)


class CountForm(StockForm):
    """The same, without code and warning, which stay as they are."""

    field_order = ["count", "sells_beyond", "seen_count"]

    def __init__(self, data: Any, row: StockRow) -> None:
        super().__init__(data, row)
        del self.fields["code"], self.fields["tell_at"]

    @property
    def draft(self) -> StockDraft:
        variant = self.row.variant
        return StockDraft(variant.pk, **self.cleaned_data, code=variant.code, tell_at=variant.tell_at)


class OptionPictureForm(forms.Form):
    """Which of the item's pictures shows the option."""

    picture = forms.TypedChoiceField(required=False, coerce=int, empty_value=None)

    def __init__(self, data: Any, option: Option, pictures: list[tuple[int, str]]) -> None:
        super().__init__(data, prefix=f"option-{option.pk}", initial={"picture": option.picture_id})
        self.option = option
        field = self.fields["picture"]
        field.label = f"Picture of “{option.name}”"
        field.choices = [("", "none"), *pictures]  # type: ignore[attr-defined]  # it is a choice field


def named_pictures(item: Item) -> list[tuple[int, str]]:
    """The item's pictures by id, with what each is called in a list."""
    return [(each.pk, each.words or f"picture {number}") for number, each in enumerate(item.pictures.all(), start=1)]
