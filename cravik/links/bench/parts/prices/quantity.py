"""A price a unit that depends on how many are bought."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.core.documents.data import BreakData, PriceData, put_or_drop
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.documents.parts import MAX_ROWS
from cravik.core.graphics.price_curve import Curve, price_curve
from cravik.core.pricing.price import QuantityPrice
from cravik.links.bench.parts.prices.base import PricePart, major
from cravik.ui.fields import AmountField, CountField, form_rows

METHODS = [
    ("all_units", "All units at the price of the row that is reached"),
    ("incremental", "Each unit at the price of the row that it falls in"),
]


class BreakForm(forms.Form):
    """From how many on which price holds."""

    start = CountField(label="From")
    unit = AmountField(label="Each")
    flat = AmountField(label="Plus once")


BreakRows = form_rows(BreakForm, MAX_ROWS, 0)


class QuantityPricePart(PricePart):
    kind = "quantity"
    label = "By quantity"
    template = "links/bench/prices/quantity.html"
    is_for_many = True
    pieces: ClassVar = {"curve": "links/bench/prices/_curve.html"}

    def add_fields(self) -> None:
        self.fields[self.field_named("method")] = forms.ChoiceField(
            label="How the rows count", choices=METHODS, widget=forms.RadioSelect
        )
        initial = [
            {"start": row.get("from", ""), "unit": row.get("unit", ""), "flat": row.get("flat") or ""}
            for row in self.before.get("breaks") or []
        ]
        self.add_rows("breaks", BreakRows, initial)

    def read(self) -> dict[str, Any]:
        return {self.field_named("method"): self.before.get("method", "all_units")}

    @property
    def method(self) -> forms.BoundField:
        return self[self.field_named("method")]

    @property
    def curve(self) -> Curve | None:
        """What so many cost, as the draft has it; None while the price is not finished."""
        offer = read_partial_offer(self.link.draft["offer"] | {"lines": [self.line.document]})
        line = offer.lines[0]
        if not isinstance(line.price, QuantityPrice):
            return None
        return price_curve(line.price, line.quantity.min, line.quantity.max)

    def check(self) -> None:
        seen: set[int] = set()
        rows = self.lists["breaks"].kept
        for row in rows:
            self.amount(row, "unit")
            self.amount(row, "flat")
            start = row.cleaned_data.get("start")
            if start in seen:
                row.add_error("start", f"Another row starts at {start:,} already.")
            if start is not None:
                seen.add(start)
        if seen and min(seen) > 1:
            first = next(row for row in rows if row.cleaned_data.get("start") == min(seen))
            first.add_error("start", "The first row starts at 1.")

    @property
    def piece(self) -> PriceData:
        breaks: list[BreakData] = []
        for row in self.lists["breaks"].kept:
            unit, flat = self.amount(row, "unit"), self.amount(row, "flat")
            start = {"from": row.cleaned_data["start"]}
            breaks.append(put_or_drop(BreakData(), **start, unit=major(unit), flat=major(flat) if flat else None))
        breaks.sort(key=lambda each: int(each.get("from", 10**9)))
        return {"kind": "quantity", "method": self.cleaned_data[self.field_named("method")], "breaks": breaks}

    @classmethod
    def amount_in(cls, price: PriceData) -> str:
        return next((str(row["unit"]) for row in price.get("breaks", []) if row.get("unit")), "")

    @classmethod
    def begin(cls, amount: str) -> PriceData:
        first: BreakData = {"from": 1, "unit": amount} if amount else {"from": 1}
        return {"kind": "quantity", "method": "all_units", "breaks": [first]}
