"""What a line costs: a part for each kind of price that the bench can change. Any other kind stays as it is."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.pricing.price import FixedPrice
from cravik.core.text.amount_text import parse_amount, parse_signed_amount
from cravik.links.bench.changes import Change, Document, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.currency import CurrencyPart


class PricePart(BenchPart):
    """The price of a line as its ``kind`` has it. Without fields it only shows that there is one, and keeps it."""

    name = "price"
    template = "links/bench/parts/price.html"
    phrases = ("price",)
    kind: ClassVar[str] = ""

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def currency(self) -> str | None:
        """The currency that is typed beside it, or the draft's; None where what is typed is none."""
        if not self.is_bound:
            return str(self.link.draft["offer"]["currency"])
        typed = CurrencyPart(self.link, data=self.data)
        return typed.piece if typed.is_valid() else None

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """What is said goes over what a price of the same kind has, and None takes it out; one of another kind is
        replaced."""

        def priced(line: Document) -> Document:
            before = line.get("price", {})
            same_kind = before.get("kind") == change.piece["kind"]
            price = (before if same_kind else {}) | change.piece
            return line | {"price": {name: value for name, value in price.items() if value is not None}}

        draft.put_line(change.line, priced)


class FixedPricePart(PricePart):
    """One amount, and a former one if there was. A line that has no price yet begins with it."""

    kind = "fixed"

    @property
    def field(self) -> str:
        return f"amount.{self.line.key}"

    @property
    def former_field(self) -> str:
        return f"was.{self.line.key}"

    def add_fields(self) -> None:
        attributes = {"inputmode": "decimal", "autocomplete": "off", "placeholder": "24.00"}
        self.fields[self.field] = forms.CharField(
            label="Amount", required=False, widget=forms.TextInput(attrs=attributes)
        )
        self.fields[self.former_field] = forms.CharField(
            label="Former price",
            required=False,
            help_text="Optional. Buyers see it struck through, and what they save.",
            widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}),
        )

    def read(self) -> dict[str, Any]:
        price = self.line.document.get("price", {})
        return {self.field: price.get("amount", ""), self.former_field: price.get("was") or ""}

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        if currency := self.currency:
            money = self._money(self.field, currency)
            former = self._money(self.former_field, currency) if cleaned.get(self.former_field, "").strip() else None
            if money is not None:
                self.price = FixedPrice(money, former)
                if former is not None and self.price.saving is None:
                    self.add_error(self.former_field, "The former price has to be higher than the amount.")
        return cleaned

    def _money(self, field: str, currency: str) -> Money | None:
        try:
            return _price(self.cleaned_data.get(field, ""), currency)
        except CoreError as error:
            for fault in error.faults:
                self.add_error(field, forms.ValidationError(fault.message, code=fault.code))
            return None

    @property
    def piece(self) -> Document:
        was = self.price.was.major if self.price.was else None
        return {"kind": "fixed", "amount": self.price.amount.major, "was": was}


def _price(typed: str, currency: str) -> Money:
    """A price as it was typed; nothing is a price too. Raises ``AmountRefused``."""
    amount = parse_signed_amount(typed, currency) if typed.strip() else parse_amount(typed, currency)
    return amount if amount.minor >= 0 else parse_amount(typed, currency)
