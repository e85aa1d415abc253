"""What the whole is for. An item that is sold alone gives its own name."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from django import forms

from cravik.core.pricing.offer import MAX_TITLE_LENGTH
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchLine, BenchPart, lines_on_bench
from cravik.ui.fields import LineField


class TitlePart(BenchPart):
    name = "title"
    heading = "What it is for"
    template = "links/bench/parts/title.html"
    phrases = ("title",)

    @cached_property
    def _lines(self) -> list[BenchLine]:
        return lines_on_bench(self.link)

    def add_fields(self) -> None:
        first, *others = self._lines
        if others or not first.item:
            self.fields["title"] = LineField(
                label="What the whole is called" if others else "What is it for?",
                longest=MAX_TITLE_LENGTH,
                missing="Say what the payment is for; buyers see it.",
                widget=forms.TextInput(attrs={"autocomplete": "off"}),
            )

    def opens(self, phrase: str) -> bool:
        first, *others = self._lines
        is_name_of_all = phrase == "lines[0].name" and not others and not first.item
        return is_name_of_all or super().opens(phrase)

    def read(self) -> dict[str, Any]:
        return {"title": self.link.title}

    @property
    def piece(self) -> str:
        return str(self.cleaned_data["title"])

    @property
    def only_line(self) -> BenchLine | None:
        """The one thing that is sold, if it is typed here: its name is that of the whole."""
        first, *others = self._lines
        return None if others or first.item else first

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_in_offer(title=change.piece)
        if len(draft.lines) == 1:
            draft.put_line(draft.lines[0]["key"], lambda line: line | {"name": change.piece})
