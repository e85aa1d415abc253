"""What a line costs. A price that is no fixed one stays as it is."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.text.amount_text import parse_amount, parse_signed_amount
from cravik.links.bench.changes import Change, Document, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.currency import CurrencyPart


class PricePart(BenchPart):
    name = "price"
    template = "links/bench/parts/price.html"
    phrases = ("price",)

    @property
    def field(self) -> str:
        return f"amount.{self.line.key}"

    def add_fields(self) -> None:
        if self.line.document.get("price", {}).get("kind", "fixed") == "fixed":
            attributes = {"inputmode": "decimal", "autocomplete": "off", "placeholder": "24.00"}
            self.fields[self.field] = forms.CharField(
                label="Amount", required=False, widget=forms.TextInput(attrs=attributes)
            )

    def read(self) -> dict[str, Any]:
        return {self.field: self.line.document.get("price", {}).get("amount", "")}

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def amount(self) -> forms.BoundField | None:
        return self[self.field] if self.fields else None

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        currency = CurrencyPart(self.link, data=self.data)
        if self.fields and currency.is_valid():
            try:
                self.money = _price(cleaned.get(self.field, ""), currency.piece)
            except CoreError as error:
                for fault in error.faults:
                    self.add_error(self.field, forms.ValidationError(fault.message, code=fault.code))
        return cleaned

    @property
    def piece(self) -> Document:
        return {"kind": "fixed", "amount": self.money.major}

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        def priced(line: Document) -> Document:
            before = line.get("price", {})
            same_kind = before.get("kind") == change.piece["kind"]
            return line | {"price": (before if same_kind else {}) | change.piece}

        draft.put_line(change.line, priced)


def _price(typed: str, currency: str) -> Money:
    """A price as it was typed; nothing is a price too. Raises ``AmountRefused``."""
    amount = parse_signed_amount(typed, currency) if typed.strip() else parse_amount(typed, currency)
    return amount if amount.minor >= 0 else parse_amount(typed, currency)
