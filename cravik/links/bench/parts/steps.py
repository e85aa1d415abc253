"""Prices that take over after so many orders or pieces, or from a day and hour on, while the link stays open."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.documents.data import PriceData, StepData, put_or_drop
from cravik.core.documents.link import MAX_STEPS
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.link.limits import Limits
from cravik.core.text.pieces_words import COUNT_WORDS, word_of
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart, refuse_if_missing
from cravik.links.bench.parts.instants import instant_field, instant_shown, instant_typed
from cravik.ui.fields import AmountField, CountField, form_rows


class StepForm(forms.Form):
    """A later price. ``place`` is where the draft has it; a price of another kind than fixed is kept as it is there."""

    place = forms.CharField(required=False, max_length=3, widget=forms.HiddenInput)
    line = forms.ChoiceField(label="Of what", required=False)
    amount = AmountField(label="Then each costs")
    after = CountField(label="After so many")
    counts = forms.ChoiceField(label="Counted in", choices=[("orders", "orders"), ("pieces", "pieces")], required=False)
    starts = instant_field("Or from")

    def __init__(self, *args: Any, lines: list[tuple[str, str]], pieces: str, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["line"].choices = lines  # type: ignore[attr-defined]  # a choice field
        self.fields["line"].initial = lines[0][0]
        self.fields["counts"].choices = [("orders", "orders"), ("pieces", pieces)]  # type: ignore[attr-defined]
        if len(lines) == 1:
            self.fields["line"].widget = forms.HiddenInput()


StepRows = form_rows(StepForm, MAX_STEPS, 0)


class StepsPart(BenchPart):
    name = "steps"
    heading = "A price that changes"
    mark = "steps-TOTAL_FORMS"
    has_amounts = True
    called = "Price change"
    adds = "Price change"
    found_by = "early bird later rise step"
    template = "links/bench/parts/steps.html"
    phrases = ("steps",)

    @property
    def is_shown(self) -> bool:
        return True

    def add_fields(self) -> None:
        initial = [self._initial(number, step) for number, step in enumerate(self.steps)]
        self.add_rows("steps", StepRows, initial, lines=self.lines_to_choose, pieces=self._pieces)
        self.fields["tells_left"] = forms.BooleanField(
            label="Say on the page how many are left at the price", required=False
        )

    def read(self) -> dict[str, Any]:
        return {"tells_left": self.link.draft.get("page", {}).get("tells_left", False)}

    @property
    def tells(self) -> forms.BoundField:
        return self["tells_left"]

    @property
    def steps(self) -> list[StepData]:
        return list(self.link.draft.get("steps", []))

    @property
    def _pieces(self) -> str:
        """What pieces are called: of several things, nothing more than that."""
        lines = read_partial_offer(self.link.draft["offer"]).lines
        limits = Limits(counted_as=self.link.draft.get("limits", {}).get("counted_as", {}))
        return COUNT_WORDS[word_of(lines[0], limits)][1] if len(lines) == 1 else "pieces"

    @property
    def zone(self) -> str:
        return self.link.business.time_zone

    def _initial(self, number: int, step: StepData) -> dict[str, Any]:
        fixed = step["price"].get("kind") == "fixed"
        return {
            "place": str(number),
            "line": step["line"],
            "amount": step["price"]["amount"] if fixed else "",
            "after": step.get("after_orders") or step.get("after_pieces") or "",
            "counts": "pieces" if step.get("after_pieces") else "orders",
            "starts": instant_shown(self.zone, step.get("from")),
        }

    def check(self) -> None:
        for row in self.lists["steps"].kept:
            typed = row.cleaned_data
            if not self._kept_price(row):
                refuse_if_missing(row, "amount", "Say what it costs then.")
            self.amount(row, "amount")
            if typed.get("after") is None and not typed.get("starts"):
                row.add_error("after", "Say after how many, or from when.")

    def _kept_price(self, row: forms.Form) -> PriceData | None:
        """The price of another kind that the draft has for the step."""
        place = row.cleaned_data.get("place", "")
        step = self.steps[int(place)] if place.isdigit() and int(place) < len(self.steps) else None
        return step["price"] if step and step["price"].get("kind") != "fixed" else None

    @property
    def piece(self) -> dict[str, Any]:
        steps, only = [], self.link.draft["offer"]["lines"][0]["key"]
        for row in self.lists["steps"].kept:
            typed, amount = row.cleaned_data, self.amount(row, "amount")
            price = self._kept_price(row) if amount is None else {"kind": "fixed", "amount": amount.major}
            step = {
                "line": typed["line"] or only,
                "price": price,
                "from": instant_typed(self.zone, typed["starts"]),
                "after_pieces" if typed["counts"] == "pieces" else "after_orders": typed["after"],
            }
            steps.append({name: value for name, value in step.items() if value is not None})
        return {"steps": steps, "tells_left": self.cleaned_data["tells_left"]}

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """In the order in which they come: of those that are reached, the last listed holds."""
        steps = sorted(change.piece["steps"], key=_comes)
        page = put_or_drop(draft.document.get("page", {}), tells_left=change.piece["tells_left"])
        draft.document = put_or_drop(draft.document, steps=steps, page=page)


def _comes(step: StepData) -> tuple[int, str]:
    return step.get("after_orders") or step.get("after_pieces") or 0, step.get("from") or ""
