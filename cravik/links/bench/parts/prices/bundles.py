"""A price a piece, and so many together for less."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.core.documents.data import PriceData
from cravik.core.documents.parts import MAX_LEVELS
from cravik.core.pricing.price import MAX_IN_BUNDLES
from cravik.links.bench.parts.prices.base import PricePart, major, present, price_of
from cravik.ui.fields import AmountField, CountField, form_rows


class BundleForm(forms.Form):
    """So many pieces together, and what they cost."""

    count = CountField(label="Pieces")
    amount = AmountField(label="Together")


BundleRows = form_rows(BundleForm, MAX_LEVELS, 0)


class BundlesPricePart(PricePart):
    kind = "bundles"
    label = "Singly and in bundles"
    template = "links/bench/prices/bundles.html"
    is_for_many = True
    most_pieces: ClassVar = MAX_IN_BUNDLES

    def add_fields(self) -> None:
        self.fields[self.field_named("unit")] = AmountField(label="One costs")
        initial = [
            {"count": row.get("count", ""), "amount": row.get("amount", "")} for row in self.before.get("bundles") or []
        ]
        self.add_rows("bundles", BundleRows, initial)

    def read(self) -> dict[str, Any]:
        return {self.field_named("unit"): self.before.get("unit", "")}

    @property
    def unit(self) -> forms.BoundField:
        return self[self.field_named("unit")]

    def check(self) -> None:
        unit = self.amount(self, self.field_named("unit"))
        seen: set[int] = set()
        for row in self.lists["bundles"].kept:
            count, amount = row.cleaned_data.get("count"), self.amount(row, "amount")
            if count is None:
                continue
            if not 2 <= count <= MAX_IN_BUNDLES:
                row.add_error("count", f"A bundle has from 2 to {MAX_IN_BUNDLES:,} pieces; {count:,} is not between.")
            elif count in seen:
                row.add_error("count", f"Another bundle has {count:,} pieces already.")
            elif unit is not None and amount is not None and amount >= unit * count:
                singly = (unit * count).major
                row.add_error("amount", f"{count:,} cost {singly} {unit.currency} singly; together they cost less.")
            seen.add(count)

    @property
    def piece(self) -> PriceData:
        bundles = [
            present(count=row.cleaned_data["count"], amount=major(self.amount(row, "amount")))
            for row in self.lists["bundles"].kept
        ]
        bundles.sort(key=lambda each: int(each.get("count", 10**9)))
        unit = self.amount(self, self.field_named("unit"))
        return price_of(kind="bundles", unit=major(unit), bundles=bundles)

    @classmethod
    def amount_in(cls, price: PriceData) -> str:
        return str(price.get("unit") or "")

    @classmethod
    def begin(cls, amount: str) -> PriceData:
        return {"kind": "bundles", "unit": amount, "bundles": []} if amount else {"kind": "bundles", "bundles": []}
