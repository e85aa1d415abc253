"""How many of a line may be bought, and whether buyers may leave it out."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.documents.data import QuantityData, put_or_drop
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.prices import PRICE_PARTS, kind_of
from cravik.ui.fields import CountField


class QuantityPart(BenchPart):
    name = "quantity"
    heading = "How many"
    called = "How many"
    adds = "How many a buyer may take"
    found_by = "quantity number minimum maximum extra several"
    template = "links/bench/parts/quantity.html"
    phrases = ("quantity", "optional")

    def named(self, name: str) -> str:
        return f"{name}.{self.line.key}"

    @property
    def is_shown(self) -> bool:
        return True

    def add_fields(self) -> None:
        self.fields[self.named("min")] = CountField(label="Minimum")
        self.fields[self.named("max")] = CountField(label="Maximum", help_text="Leave blank for no limit.")
        self.fields[self.named("default")] = CountField(label="Default")
        if not self.line.is_only:
            self.fields[self.named("optional")] = forms.BooleanField(
                label="An extra: buyers add it if they like", required=False
            )

    def read(self) -> dict[str, Any]:
        quantity = self.line.document.get("quantity") or {}
        return {
            self.named("min"): quantity.get("min", 1),
            self.named("max"): quantity.get("max", 1) or "",
            self.named("default"): quantity.get("default", 1),
            self.named("optional"): self.line.document.get("optional", False),
        }

    def check(self) -> None:
        if self.errors:
            return
        least, most, first = self.bounds
        bound = PRICE_PARTS[kind_of(self.line.document.get("price"))].most_pieces
        if bound and (most is None or most > bound):
            self.add_error(self.named("max"), f"At this kind of price the most is {bound:,} or fewer.")
        elif most is not None and most < least:
            self.add_error(self.named("max"), f"The most is not below the least, {least:,}.")
        elif first < least or (most is not None and first > most):
            within = f"{least:,} or more" if most is None else f"from {least:,} to {most:,}"
            self.add_error(self.named("default"), f"The default has to be {within}.")

    @property
    def bounds(self) -> tuple[int, int | None, int]:
        """The least, the most and what stands there at first. One that was left empty is the least."""
        typed = self.cleaned_data
        least: int = typed.get(self.named("min")) or 1
        return least, typed.get(self.named("max")), typed.get(self.named("default")) or least

    @property
    def piece(self) -> dict[str, Any]:
        least, most, first = self.bounds
        quantity: QuantityData = {"default": first, "min": least, "max": most}
        optional = self.cleaned_data.get(self.named("optional"), self.line.document.get("optional", False))
        return {"quantity": quantity, "optional": optional}

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """Exactly one of what is no extra is said by nothing; a line that stands alone is no extra."""
        usual = {"default": 1, "min": 1, "max": 1}
        quantity = {name: value for name, value in change.piece["quantity"].items() if value != usual[name]}
        optional = change.piece["optional"] and len(draft.lines) > 1
        draft.put_line(change.line, lambda line: put_or_drop(line, quantity=quantity, optional=optional))
