"""Form fields for what people type."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from email.errors import HeaderParseError
from email.headerregistry import Address
from typing import Any, cast

from django import forms
from django.forms import BaseFormSet, formset_factory
from django.forms.utils import flatatt
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe

from cravik.core.errors import CoreError
from cravik.core.link.onward import host_of, is_web_address
from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent
from cravik.core.text.amount_text import parse_signed_amount
from cravik.core.text.faults import fault_words

AMOUNT_ATTRIBUTES = {"inputmode": "decimal", "autocomplete": "off"}


def clean_line(text: str) -> str:
    """One line without control and direction-override signs, its white space folded."""
    kept = (
        " " if sign.isspace() else sign
        for sign in text
        if sign.isspace() or unicodedata.category(sign) not in ("Cc", "Cs", "Cn")
    )
    overrides = dict.fromkeys(map(ord, "\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"))
    line = " ".join("".join(kept).translate(overrides).split())
    # Joiners and marks shape a word, and are nothing by themselves.
    return line if any(unicodedata.category(sign)[0] not in "CZ" for sign in line) else ""


def parse_id(sent: str) -> int:
    """The whole number of a hidden field, an id or a revision; −1 for whatever is none."""
    return int(sent) if sent.isascii() and sent.isdigit() and len(sent) < 19 else -1


class LineField(forms.CharField):
    """A name or title: one line, counted after it was cleaned, with the bound in the message."""

    def __init__(self, *, longest: int, missing: str, **kwargs: object) -> None:
        self.longest = longest
        super().__init__(**kwargs)  # type: ignore[arg-type]  # passed on as they came
        self.error_messages["required"] = missing

    def to_python(self, value: object) -> str:
        return clean_line(str(value or ""))

    def validate(self, value: str) -> None:
        super().validate(value)
        if len(value) > self.longest:
            raise forms.ValidationError(f"This has {len(value):,} characters; the most is {self.longest}.")


class MailAddressField(forms.EmailField):
    """An e-mail address that a message can be sent to: what Django takes, and mail itself (RFC 5322) takes too."""

    def __init__(self, *, max_length: int = 254, **kwargs: Any) -> None:
        super().__init__(max_length=max_length, **kwargs)
        self.error_messages["invalid"] = "That is not an e-mail address. It looks like name@place.example."

    def clean(self, value: object) -> str:
        address = str(super().clean(value))
        if address and not is_mail_address(address):
            raise forms.ValidationError(self.error_messages["invalid"], code="invalid")
        return address


def is_mail_address(address: str) -> bool:
    """Whether a message can be addressed to it. Signs that nobody sees, such as a zero-width space, are in none."""
    if any(unicodedata.category(sign)[0] in "CZ" for sign in address):
        return False
    try:
        name, _, place = address.rpartition("@")
        Address(addr_spec=f"{name}@{place.encode('idna').decode()}")
    except (HeaderParseError, UnicodeError, ValueError, IndexError):
        return False
    return True


class TextAreaField(forms.CharField):
    """Several lines of plain text, with the bound in the message."""

    widget = forms.Textarea

    def __init__(self, *, longest: int, **kwargs: object) -> None:
        self.longest = longest
        super().__init__(**kwargs)  # type: ignore[arg-type]  # passed on as they came

    def to_python(self, value: object) -> str:
        lines = str(value or "").replace("\r\n", "\n").replace("\r", "\n").split("\n")
        return "\n".join(clean_line(line) for line in lines).strip()

    def validate(self, value: str) -> None:
        super().validate(value)
        if len(value) > self.longest:
            raise forms.ValidationError(f"This has {len(value):,} characters; the most is {self.longest:,}.")


class MarkedTextField(TextAreaField):
    """The same with a small part of Markdown (see ``ui.markdown``), and buttons that write its marks."""

    is_marked = True


MAX_WEIGHT_G = 1_000_000


class GramsField(forms.IntegerField):
    """A weight in whole grams; nothing typed is 0."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(
            required=False,
            min_value=0,
            max_value=MAX_WEIGHT_G,
            widget=forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
            error_messages={
                "invalid": "Write whole grams, such as 420.",
                "min_value": "The least is 0 g.",
                "max_value": f"The most is {MAX_WEIGHT_G:,} g.",
            },
            **kwargs,
        )

    def clean(self, value: object) -> int:
        return super().clean(value) or 0


class CountField(forms.CharField):
    """A whole number from ``least`` on, in whatever way it is grouped; None where nothing is typed."""

    def __init__(self, *, least: int = 1, most: int = 1_000_000, **kwargs: Any) -> None:
        self.least, self.most = least, most
        widget = forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"})
        super().__init__(max_length=20, required=False, widget=widget, **kwargs)

    def has_changed(self, initial: Any, data: Any) -> bool:
        return super().has_changed("" if initial is None else str(initial), data)

    def clean(self, value: object) -> Any:
        typed = unicodedata.normalize("NFKC", str(super().clean(value))).strip()
        if not typed:
            return None
        plain = re.sub(r"(?<=\d)[\s'’.,](?=\d{3}(?!\d))", "", typed)
        if not re.fullmatch(r"-?\d{1,12}", plain, re.ASCII):
            raise forms.ValidationError("Write a whole number, such as 10.")
        if not self.least <= int(plain) <= self.most:
            raise forms.ValidationError(f"A whole number from {self.least:,} to {self.most:,}.")
        return int(plain)


class PercentField(forms.CharField):
    """A percentage from 0 to 100 with up to four decimals, by point or comma, as ``Percent``."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(max_length=20, widget=forms.TextInput(attrs=AMOUNT_ATTRIBUTES), **kwargs)

    def clean(self, value: object) -> Any:
        typed = unicodedata.normalize("NFKC", str(super().clean(value))).replace("%", "").replace(",", ".").strip()
        if not typed:
            return None
        try:
            return Percent.parse(typed)
        except CoreError as error:
            raise forms.ValidationError(fault_words(error.faults[0])) from None


def clean_web_address(typed: str) -> str:
    """The https address that was typed, with its scheme or without; nothing for none. Raises ``ValidationError``."""
    text = typed.strip()
    if not text:
        return ""
    address = text if "://" in text else f"https://{text}"
    if not is_web_address(address) or "." not in host_of(address):
        raise forms.ValidationError("Write an address that begins with https://.")
    return address


class AmountField(forms.CharField):
    """An amount as it is typed; ``clean_amount`` reads it once its currency is known."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(max_length=60, required=False, widget=forms.TextInput(attrs=AMOUNT_ATTRIBUTES), **kwargs)


def clean_amount(form: forms.Form, name: str, currency: str, missing: str = "") -> Money | None:
    """The amount, zero or more, that was typed into the form's field, or None with the fault told at the field.

    Nothing typed is a fault only where ``missing`` says how to tell it.
    """
    typed = form.cleaned_data.get(name, "")
    if not typed:
        if missing and not form.has_error(name):
            form.add_error(name, missing)
        return None
    try:
        amount = parse_signed_amount(typed, currency, name)
    except CoreError as error:
        for fault in error.faults:
            form.add_error(name, fault_words(fault))
        return None
    if amount.minor < 0:
        form.add_error(name, "The amount can't be below zero.")
        return None
    return amount


def clean_percent(form: forms.Form, name: str) -> Percent | None:
    """The percentage that was typed into the form's field, or None with the fault told at the field."""
    try:
        return PercentField(required=False).clean(form.cleaned_data.get(name, ""))  # type: ignore[no-any-return]  # untyped
    except forms.ValidationError as error:
        form.add_error(name, error)
        return None


class LongSelect(forms.Select):
    """A list to choose from that is drawn at once: Django's own renders a template for each of its options."""

    def render(self, name: str, value: Any, attrs: Any = None, renderer: Any = None) -> SafeString:
        chosen = "" if value is None else str(value)
        options = format_html_join(
            "\n",
            '<option value="{}"{}>{}</option>',
            ((each, mark_safe(" selected") if str(each) == chosen else "", label) for each, label in self.choices),
        )
        more = flatatt(self.build_attrs(self.attrs, attrs))
        return format_html('<select name="{}"{}>\n{}\n</select>', name, more, options)


class Rows(BaseFormSet[Any]):
    """A list of rows of the same fields. Each has a box to remove it; one never filled in is passed over."""

    default_error_messages = BaseFormSet.default_error_messages | {
        "missing_management_form": "A list did not arrive whole. Load the page again.",
        "too_many_forms": "There are too many rows: the most is %(num)d.",
    }

    def add_fields(self, form: forms.Form, index: int | None) -> None:
        super().add_fields(form, index)
        form.fields["DELETE"].label = "Remove"

    @property
    def kept(self) -> list[forms.Form]:
        """The rows that count, once they were judged."""
        there = self.initial_form_count()
        rows = [form for number, form in enumerate(self.forms) if number < there or form.has_changed()]
        return [form for form in rows if not form.cleaned_data.get("DELETE")]


def form_rows(form: type[forms.Form], most: int, extra: int) -> type[Rows]:
    """A list of rows, up to ``most``."""
    made = formset_factory(
        form, formset=Rows, extra=extra, max_num=most, absolute_max=most + 5, validate_max=True, can_delete=True
    )
    return cast(type[Rows], made)


#: A form, or rows of them.
Part = forms.Form | BaseFormSet[Any]


@dataclass(frozen=True)
class WrongField:
    """A field at which something is wrong: what it is called, and its place on the page."""

    label: str
    at: str


def wrong_fields(parts: Sequence[Part]) -> list[WrongField]:
    """The fields of all the parts at which something is wrong, in their order."""
    return [field for part in parts for field in _wrong_of(part)]


def _wrong_of(part: Part) -> Iterator[WrongField]:
    rows = isinstance(part, BaseFormSet)
    for number, form in enumerate(part.forms if isinstance(part, BaseFormSet) else [part], start=1):
        for name in form.errors if form.is_bound else ():
            if name in form.fields:
                label = f"{form[name].label} ({number})" if rows else str(form[name].label)
                # The first of several to tick has the number 0 after its field's id.
                yield WrongField(label, form[name].id_for_label or f"{form[name].auto_id}_0")


def all_valid(forms_and_rows: Sequence[Part]) -> bool:
    """Whether every part can be taken. Each is asked, so that every fault is told at once."""
    return all([part.is_valid() for part in forms_and_rows])  # noqa: C419
