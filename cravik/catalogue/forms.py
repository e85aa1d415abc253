"""What a seller types about an item."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from django import forms

from cravik.catalogue.drafts import (
    MAX_OPTION_GROUPS,
    MAX_OPTION_NAME,
    MAX_OPTIONS,
    MAX_PRICES,
    MAX_WORDS_LENGTH,
    ItemDraft,
    OptionDraft,
    OptionGroupDraft,
    PriceDraft,
    variants_fault,
)
from cravik.catalogue.models import Item, OptionGroup, Picture
from cravik.catalogue.refusals import VARIANTS
from cravik.catalogue.stock_forms import named_pictures
from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.text.amount_text import parse_signed_amount
from cravik.core.text.faults import fault_words
from cravik.ui.fields import AmountField, GramsField, LineField, Part, TextAreaField, all_valid, clean_line, form_rows
from cravik.ui.places import currency_choices

MAX_ALT_LENGTH = 200
_FOCUS = [(step, f"{step} %") for step in range(0, 101, 10)]


def _line(label: str, longest: int, **more: Any) -> LineField:
    return LineField(label=label, longest=longest, missing="", required=False, **more)


class ItemForm(forms.Form):
    """What an item is."""

    name = LineField(label="Name", longest=120, missing="Give the item a name; buyers see it.")
    words = TextAreaField(
        label="Words",
        longest=MAX_WORDS_LENGTH,
        required=False,
        help_text="For buyers. *Emphasis*, **strong**, lists and links are understood.",
        widget=forms.Textarea(attrs={"rows": 5}),
    )
    kind = forms.ChoiceField(label="What it is", choices=Item.Kind.choices)
    code = _line("Code", 40, help_text="Your own, for finding it again. Optional.")
    weight_g = GramsField(label="Weight in grams")
    tax_category = _line("Tax category", 40, initial="standard")
    currency = forms.ChoiceField(label="Currency", choices=currency_choices)
    revision = forms.IntegerField(widget=forms.HiddenInput, min_value=0, required=False)

    def clean_tax_category(self) -> str:
        return str(self.cleaned_data["tax_category"]) or "standard"


class PriceForm(forms.Form):
    """One price; a row without an amount is dropped."""

    label = _line("Label", 60)
    amount = AmountField(label="Price")


class OptionGroupForm(forms.Form):
    """A group of options; without a name it is dropped."""

    name = _line("What is chosen", MAX_OPTION_NAME)


class OptionForm(forms.Form):
    """One option; without a name it is dropped."""

    option_id = forms.IntegerField(widget=forms.HiddenInput, required=False)
    name = _line("Option", MAX_OPTION_NAME)
    picture_id = forms.TypedChoiceField(
        label="Picture", required=False, coerce=int, empty_value=None, choices=[("", "none")]
    )
    add = AmountField(label="Adds")
    weight_g = GramsField(label="Adds grams")
    code = _line("Code", 20)
    field_order = ["option_id", "name", "add", "weight_g", "code", "picture_id"]

    def __init__(self, *args: Any, pictures: Sequence[tuple[int, str]] = (), **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        if pictures:
            self.fields["picture_id"].choices = [("", "none"), *pictures]  # type: ignore[attr-defined]  # it is a choice field
        else:
            del self.fields["picture_id"]


class OptionGroupRows:
    """A group and the rows of its options on the page."""

    def __init__(
        self,
        data: Mapping[str, Any] | None,
        place: int,
        group: OptionGroup | None,
        pictures: Sequence[tuple[int, str]],
    ) -> None:
        prefix = f"choice-{place}"
        rows = [
            {
                "option_id": option.pk,
                "name": option.name,
                "add": option.add.major if option.add_minor else "",
                "weight_g": option.weight_g or "",
                "code": option.code,
                "picture_id": option.picture_id,
            }
            for option in (group.options.all() if group else ())
        ]
        self.form = OptionGroupForm(data, prefix=prefix, initial={"name": group.name if group else ""})
        shown = form_rows(OptionForm, MAX_OPTIONS, 1 if rows else 2)
        self.options = shown(data, prefix=f"{prefix}-option", initial=rows, form_kwargs={"pictures": pictures})
        self.shape = "rows-option rows-with-picture" if pictures else "rows-option"

    @property
    def is_wanted(self) -> bool:
        return bool(self.form["name"].value()) or any(row["name"].value() for row in self.options)


class ItemSheet:
    """The whole page of an item: what it is, its prices, its groups of options."""

    def __init__(self, data: Mapping[str, Any] | None, item: Item | None, currency: str) -> None:
        self.item = item
        self.form = ItemForm(data, initial=_initial(item, currency))
        prices = [{"label": price.label, "amount": price.amount.major} for price in (item.prices.all() if item else ())]
        self.prices = form_rows(PriceForm, MAX_PRICES, 1)(data, prefix="price", initial=prices)
        option_groups: list[OptionGroup | None] = list(item.option_groups.all()) if item else []
        option_groups += [None] * (MAX_OPTION_GROUPS - len(option_groups))
        pictures = named_pictures(item) if item else []
        self.groups = [OptionGroupRows(data, place, group, pictures) for place, group in enumerate(option_groups)]
        self.draft: ItemDraft | None = None

    @property
    def parts(self) -> list[Part]:
        return [self.form, self.prices, *(part for group in self.groups for part in (group.form, group.options))]

    def is_valid(self) -> bool:
        """Whether all of it can be taken; ``draft`` is then what it says."""
        if not all_valid(self.parts):
            return False
        cleaned = self.form.cleaned_data
        prices = tuple(self._prices(cleaned["currency"]))
        option_groups = tuple(self._option_groups(cleaned["currency"]))
        if any(form.errors for form in self._row_forms()):
            return False
        self.draft = ItemDraft(
            **{
                name: cleaned[name]
                for name in ("name", "words", "kind", "code", "weight_g", "tax_category", "currency")
            },
            prices=prices,
            option_groups=option_groups,
        )
        return True

    def _row_forms(self) -> Iterator[forms.Form]:
        yield from self.prices
        for group in self.groups:
            yield group.form
            yield from group.options

    def _prices(self, currency: str) -> Iterator[PriceDraft]:
        labels: set[str] = set()
        for row in self.prices.kept:
            label = row.cleaned_data.get("label", "")
            typed = row.cleaned_data.get("amount", "")
            if not typed:
                row.add_error("amount", "Write the price, or remove the row.")
                continue
            if label.casefold() in labels:
                row.add_error(
                    "label", "Another price has that label." if label else "Give it a label: there is another price."
                )
            labels.add(label.casefold())
            amount = _money(row, "amount", typed, currency)
            if amount and amount.minor < 0:
                row.add_error("amount", "A price can't be below zero.")
            if amount is not None:
                yield PriceDraft(label, amount)

    def _option_groups(self, currency: str) -> Iterator[OptionGroupDraft]:
        names: set[str] = set()
        for group in self.groups:
            options = tuple(self._options(group, currency))
            name = group.form.cleaned_data.get("name", "")
            if options and not name:
                group.form.add_error("name", "Say what buyers choose, such as Span.")
            if name and not options:
                group.form.add_error("name", "Add at least one option below, or empty this field.")
            if name and name.casefold() in names:
                group.form.add_error("name", "Another group has that name.")
            names.add(name.casefold())
            if options and name:
                yield OptionGroupDraft(name, options)
        if fault := variants_fault(len(group.options.kept) or 1 for group in self.groups):
            self.groups[0].form.add_error("name", fault_words(fault, VARIANTS))

    def _options(self, group: OptionGroupRows, currency: str) -> Iterator[OptionDraft]:
        names: set[str] = set()
        for row in group.options.kept:
            name = row.cleaned_data.get("name", "")
            if not name:
                row.add_error("name", "Name the option, or remove the row.")
                continue
            if name.casefold() in names:
                row.add_error("name", "Another option has that name.")
            names.add(name.casefold())
            add = _money(row, "add", row.cleaned_data["add"] or "0", currency)
            if add is not None:
                cleaned = row.cleaned_data
                weight_g, picture_id = cleaned["weight_g"], cleaned.get("picture_id")
                yield OptionDraft(name, add, weight_g, cleaned["code"], cleaned["option_id"], picture_id)


def _money(row: forms.Form, field: str, typed: str, currency: str) -> Money | None:
    try:
        return parse_signed_amount(typed, currency)
    except CoreError as error:
        for fault in error.faults:
            row.add_error(field, forms.ValidationError(fault_words(fault), code=fault.code))
        return None


def _initial(item: Item | None, currency: str) -> dict[str, Any]:
    if item is None:
        return {"currency": currency, "revision": 0}
    names = ("name", "words", "kind", "code", "tax_category", "currency", "revision")
    return {name: getattr(item, name) for name in names} | {"weight_g": item.weight_g or ""}


class PictureForm(forms.Form):
    """What is said of a picture."""

    words = forms.CharField(label="Description for people who can't see it", max_length=MAX_ALT_LENGTH, required=False)
    focus_x = forms.TypedChoiceField(label="Focus from the left", choices=_FOCUS, coerce=int)
    focus_y = forms.TypedChoiceField(label="Focus from the top", choices=_FOCUS, coerce=int)

    @classmethod
    def for_picture(cls, picture: Picture) -> PictureForm:
        names = ("words", "focus_x", "focus_y")
        return cls(initial={name: getattr(picture, name) for name in names}, prefix=f"picture-{picture.pk}")

    def clean_words(self) -> str:
        return clean_line(self.cleaned_data["words"])
