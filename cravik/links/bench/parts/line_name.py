"""What one of several lines is called, or the item that gives it its name."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.pricing.offer import MAX_TITLE_LENGTH
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.ui.fields import LineField


class LineNamePart(BenchPart):
    name = "name"
    heading = "What it is"
    template = "links/bench/parts/line_name.html"
    phrases = ("name",)

    @property
    def field(self) -> str:
        return f"name.{self.line.key}"

    def add_fields(self) -> None:
        if not self.line.item and not self.line.is_only:
            self.fields[self.field] = LineField(label="Name", longest=MAX_TITLE_LENGTH, missing="Say what it is.")

    def read(self) -> dict[str, Any]:
        return {self.field: self.line.name}

    @property
    def is_shown(self) -> bool:
        return bool(self.fields) or self.line.item is not None

    @property
    def named(self) -> forms.BoundField | None:
        return self[self.field] if self.fields else None

    @property
    def piece(self) -> str:
        return str(self.cleaned_data[self.field])

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_line(change.line, lambda line: line | {"name": change.piece})
