"""The words by which a seller sorts links; buyers never see them."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.text.faults import fault_words
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.finding.labels import MAX_LABEL, MAX_LABELS, labels_fault, labels_in
from cravik.links.refusals import LABELS
from cravik.ui.fields import LineField


class LabelsPart(BenchPart):
    name = "labels"
    heading = "Labels"
    called = "Labels"
    adds = "Labels"
    found_by = "tag sort group"
    template = "links/bench/parts/labels.html"
    phrases = ("labels",)

    @property
    def value(self) -> str:
        return str(self.read()["labels"])

    @property
    def is_shown(self) -> bool:
        return True

    def add_fields(self) -> None:
        self.fields["labels"] = LineField(
            label="Labels, only you see them",
            longest=MAX_LABELS * (MAX_LABEL + 2),
            missing="",
            required=False,
            help_text="Separate with commas, such as market, spring. You can search for links by label.",
            widget=forms.TextInput(attrs={"autocomplete": "off", "placeholder": "market, spring"}),
        )

    def read(self) -> dict[str, Any]:
        return {"labels": ", ".join(self.link.draft.get("labels", []))}

    def check(self) -> None:
        if fault := labels_fault(labels_in(self.cleaned_data.get("labels", ""))):
            self.add_error("labels", fault_words(fault, LABELS))

    @property
    def piece(self) -> list[str]:
        return labels_in(self.cleaned_data["labels"])

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_or_drop("labels", change.piece)
