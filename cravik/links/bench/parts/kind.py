"""Which kind of price a line has. Changing it keeps what can be kept, and going back brings the rest back."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django import forms

from cravik.core.documents.data import LineData, PriceData, put, put_or_drop
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.prices import PRICE_PARTS, PricePart, kind_of


class KindPart(BenchPart):
    """The choice, and beside it the kind whose fields the page shows: that one is read, whatever was chosen since."""

    name = "kind"
    heading = "Price"
    called = "Price"
    template = "links/bench/parts/kind.html"

    @property
    def chosen(self) -> str:
        return f"kind.{self.line.key}"

    @property
    def shown(self) -> str:
        return f"shown_kind.{self.line.key}"

    def add_fields(self) -> None:
        choices = [(kind, part.label) for kind, part in PRICE_PARTS.items()]
        self.fields[self.chosen] = forms.ChoiceField(label="Kind of price", choices=choices)
        self.fields[self.shown] = forms.ChoiceField(choices=choices, widget=forms.HiddenInput)

    def read(self) -> dict[str, Any]:
        kind = kind_of(self.line.document.get("price"))
        return {self.chosen: kind, self.shown: kind}

    @property
    def kind_field(self) -> forms.BoundField:
        return self[self.chosen]

    @property
    def shown_field(self) -> forms.BoundField:
        return self[self.shown]

    @property
    def is_another(self) -> bool:
        """Whether a valid form says another kind than the one that it shows."""
        return self.is_sent and bool(self.cleaned_data[self.chosen] != self.cleaned_data[self.shown])

    @property
    def piece(self) -> str:
        return str(self.cleaned_data[self.chosen])

    @property
    def is_reshaped(self) -> bool:
        return self.is_another

    def changes(self) -> Iterator[Change]:
        if self.is_another:
            yield from super().changes()

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        before: PriceData = draft.line(change.line).get("price") or {}
        kept, former, part = draft.set_aside(change.line), kind_of(before), PRICE_PARTS[change.piece]
        if before:
            kept[former] = before
        price = kept.pop(change.piece, None) or part.begin(PRICE_PARTS[former].amount_in(before))

        draft.put_line(change.line, lambda line: put_or_drop(_with_room(line, part), price=price))


def _with_room(line: LineData, part: type[PricePart]) -> LineData:
    """The line with as many pieces as a price of that kind is for: more than one, and no more than it can have."""
    if part.is_for_many and "quantity" not in line:
        return put(line, quantity={"max": part.most_pieces})
    most = line.get("quantity", {}).get("max", 1)
    if part.most_pieces and (most is None or most > part.most_pieces):
        return put(line, quantity=put(line["quantity"], max=part.most_pieces))
    return line
