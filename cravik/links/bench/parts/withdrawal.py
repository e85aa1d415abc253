"""Whether buyers can withdraw from buying a line, where the seller's country gives them that right."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.link.withdrawal import DAYS, gives_right
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart

_CHOICES = (
    ("", f"Yes, within {DAYS} days, as the law says"),
    ("made_to_order", "No: it is made to the buyer's wishes"),
    ("dated", "No: it is for a set day, such as a workshop"),
    ("perishable", "No: it spoils quickly"),
    ("at_once", "No longer once they have it: a download, which the buyer asks for at once"),
    ("gift", "Nothing is bought: it is a gift"),
)
_VALUES = {
    "made_to_order": "made to order",
    "dated": "for a set day",
    "perishable": "spoils quickly",
    "at_once": "had at once",
    "gift": "a gift",
}


class WithdrawalPart(BenchPart):
    name = "withdrawal"
    heading = "Right to withdraw"
    called = "No withdrawal"
    adds = "No right to withdraw"
    found_by = "withdrawal return send back 14 days consumer made to order download"
    template = "links/bench/parts/withdrawal.html"

    @property
    def _field(self) -> str:
        return f"no_withdrawal.{self.line.key}"

    @property
    def value(self) -> str:
        return _VALUES.get(self.read()[self._field], "")

    @property
    def is_shown(self) -> bool:
        return gives_right(self.link.business.country)

    def add_fields(self) -> None:
        if self.is_shown:
            self.fields[self._field] = forms.ChoiceField(
                label="Can buyers withdraw from the purchase?",
                choices=_CHOICES,
                required=False,
                help_text="Buyers read it before they pay. Ask somebody who knows the law if you are in doubt.",
            )

    def read(self) -> dict[str, Any]:
        return {self._field: self.link.draft.get("no_withdrawal", {}).get(self.line.key, "")}

    @property
    def choice(self) -> forms.BoundField:
        return self[self._field]

    @property
    def piece(self) -> str:
        return str(self.cleaned_data[self._field])

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_section("no_withdrawal", **{change.line: change.piece})
