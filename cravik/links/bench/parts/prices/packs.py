"""Sold in packs of a size; a started pack is a whole one."""

from __future__ import annotations

from typing import Any

from cravik.links.bench.changes import Document
from cravik.links.bench.parts.prices.base import PricePart, major, present
from cravik.ui.fields import AmountField, CountField


class PacksPricePart(PricePart):
    kind = "packs"
    label = "By the pack"
    is_for_many = True

    def add_fields(self) -> None:
        self.fields[self.field_named("amount")] = AmountField(label="A pack costs")
        self.fields[self.field_named("size")] = CountField(
            label="Pieces in a pack", help_text="Buyers say how many pieces they want; a started pack counts whole."
        )

    def read(self) -> dict[str, Any]:
        return {
            self.field_named("amount"): self.before.get("amount", ""),
            self.field_named("size"): self.before.get("size", ""),
        }

    def check(self) -> None:
        self.amount(self, self.field_named("amount"))

    @property
    def piece(self) -> Document:
        amount = self.amount(self, self.field_named("amount"))
        return present(kind="packs", size=self.cleaned_data[self.field_named("size")], amount=major(amount))

    @classmethod
    def begin(cls, amount: str) -> Document:
        return {"kind": "packs", "amount": amount} if amount else {"kind": "packs"}
