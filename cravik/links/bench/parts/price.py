"""What a line costs: a part for each kind of price that the bench can change. Any other kind stays as it is."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
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
        """What is said goes over what a price of the same kind has; one of another kind is replaced."""

        def priced(line: Document) -> Document:
            before = line.get("price", {})
            same_kind = before.get("kind") == change.piece["kind"]
            return line | {"price": (before if same_kind else {}) | change.piece}

        draft.put_line(change.line, priced)


class FixedPricePart(PricePart):
    """One amount. A line that has no price yet begins with it."""

    kind = "fixed"

    @property
    def field(self) -> str:
        return f"amount.{self.line.key}"

    def add_fields(self) -> None:
        attributes = {"inputmode": "decimal", "autocomplete": "off", "placeholder": "24.00"}
        self.fields[self.field] = forms.CharField(
            label="Amount", required=False, widget=forms.TextInput(attrs=attributes)
        )

    def read(self) -> dict[str, Any]:
        return {self.field: self.line.document.get("price", {}).get("amount", "")}

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        if currency := self.currency:
            try:
                self.money = _price(cleaned.get(self.field, ""), currency)
            except CoreError as error:
                for fault in error.faults:
                    self.add_error(self.field, forms.ValidationError(fault.message, code=fault.code))
        return cleaned

    @property
    def piece(self) -> Document:
        return {"kind": "fixed", "amount": self.money.major}


def _price(typed: str, currency: str) -> Money:
    """A price as it was typed; nothing is a price too. Raises ``AmountRefused``."""
    amount = parse_signed_amount(typed, currency) if typed.strip() else parse_amount(typed, currency)
    return amount if amount.minor >= 0 else parse_amount(typed, currency)
