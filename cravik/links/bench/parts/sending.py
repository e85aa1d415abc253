"""Whether a line is sent, what it weighs, and by which category of rates it is taxed. An item knows that itself."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.documents.data import LineData, put, without
from cravik.core.pricing.tax import STANDARD
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.ui.fields import GramsField, LineField


class SendingPart(BenchPart):
    name = "sending"
    heading = "Sending it"
    called = "Sending"
    adds = "Weight, and how it is sent"
    found_by = "post shipping parcel delivery tax category"
    phrases = ("weight_g", "tax_category")
    template = "links/bench/parts/sending.html"

    @property
    def value(self) -> str:
        line = self.line.document
        if not line.get("ships"):
            return ""
        return f"by post, {line['weight_g']:,} g" if line.get("weight_g") else "by post"

    @property
    def is_shown(self) -> bool:
        return True

    def add_fields(self) -> None:
        if self.line.item:
            return
        key = self.line.key
        self.fields[f"ships.{key}"] = forms.BooleanField(label="It is sent to the buyer", required=False)
        self.fields[f"weight_g.{key}"] = GramsField(label="Weight in grams")
        self.fields[f"tax_category.{key}"] = LineField(
            label="Tax category",
            longest=40,
            missing="",
            required=False,
            help_text="As named in your tax rates in Setup.",
        )

    def read(self) -> dict[str, Any]:
        key, line = self.line.key, self.line.document
        return {
            f"ships.{key}": line.get("ships", False),
            f"weight_g.{key}": line.get("weight_g", ""),
            f"tax_category.{key}": line.get("tax_category", STANDARD),
        }

    @property
    def ships(self) -> forms.BoundField:
        return self[f"ships.{self.line.key}"]

    @property
    def weight(self) -> forms.BoundField:
        return self[f"weight_g.{self.line.key}"]

    @property
    def category(self) -> forms.BoundField:
        return self[f"tax_category.{self.line.key}"]

    @property
    def piece(self) -> LineData:
        typed, key = self.cleaned_data, self.line.key
        return {
            "ships": typed[f"ships.{key}"],
            "weight_g": typed[f"weight_g.{key}"] if typed[f"ships.{key}"] else 0,
            "tax_category": (typed[f"tax_category.{key}"] or STANDARD).lower(),
        }

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        usual = {"ships": False, "weight_g": 0, "tax_category": STANDARD}

        differing = {name: value for name, value in change.piece.items() if value != usual[name]}
        draft.put_line(change.line, lambda line: put(without(line, *usual), **differing))
