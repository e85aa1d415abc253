"""The description under the name."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.catalogue.models import Item
from cravik.core.documents.link import MAX_WORDS_LENGTH
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.models import items_of_draft
from cravik.ui.fields import MarkedTextField


class WordsPart(BenchPart):
    name = "words"
    heading = "Description"
    called = "Description"
    adds = "Description"
    found_by = "words text about"
    template = "links/bench/parts/words.html"

    @property
    def value(self) -> str:
        return str(self.read()["words"])

    @property
    def is_shown(self) -> bool:
        return True

    def add_fields(self) -> None:
        self.fields["words"] = MarkedTextField(
            label="Description",
            longest=MAX_WORDS_LENGTH,
            required=False,
            help_text="Shown under the name and pictures. Optional.",
            widget=forms.Textarea(attrs={"rows": 6}),
        )

    @property
    def items(self) -> list[Item]:
        """Whose pictures stand above the words."""
        return list(items_of_draft(self.link).values())

    def read(self) -> dict[str, Any]:
        return {"words": self.link.draft.get("page", {}).get("words", "")}

    @property
    def piece(self) -> str:
        return str(self.cleaned_data["words"])

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_section("page", words=change.piece)
