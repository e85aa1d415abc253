"""Sold in packs of a size; a started pack is a whole one."""

from __future__ import annotations

from typing import Any

from cravik.core.documents.data import LineData, PriceData, put
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.prices.base import PricePart, major, price_of
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
    def piece(self) -> PriceData:
        amount = self.amount(self, self.field_named("amount"))
        return price_of(kind="packs", size=self.cleaned_data[self.field_named("size")], amount=major(amount))

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """One pack stands there at first, where nobody said another number."""
        before = (draft.line(change.line).get("price") or {}).get("size", 1)
        super().put(draft, change)
        size = (change.piece or {}).get("size") or 1

        def filled(line: LineData) -> LineData:
            quantity = line.get("quantity", {})
            usual = quantity.get("default", 1) in (1, before) and quantity.get("min", 1) == 1
            most = quantity.get("max", 1)
            if not usual or (most is not None and most < size):
                return line
            return put(line, quantity=put(quantity, default=size))

        draft.put_line(change.line, filled)

    @classmethod
    def begin(cls, amount: str) -> PriceData:
        return {"kind": "packs", "amount": amount} if amount else {"kind": "packs"}
