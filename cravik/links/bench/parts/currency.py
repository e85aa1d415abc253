"""The currency of the whole link."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.documents.link_draft import in_currency
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.ui.places import currency_choices


class CurrencyPart(BenchPart):
    name = "currency"
    template = "links/bench/parts/currency.html"

    def add_fields(self) -> None:
        self.fields["currency"] = forms.ChoiceField(label="Currency", choices=currency_choices)

    def read(self) -> dict[str, Any]:
        return {"currency": self.link.draft["offer"]["currency"]}

    @property
    def piece(self) -> str:
        return str(self.cleaned_data["currency"])

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """What was in the former currency is cleared and named, but for prices that are typed in the same step."""
        typed_anew = [other.line for other in draft.changes if other.part == "price"]
        draft.document, draft.cleared = in_currency(draft.document, change.piece, typed_anew)
