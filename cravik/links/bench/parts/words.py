"""A few words of the seller's under the name."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.documents.link_draft import without_empty
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.ui.fields import TextAreaField

MAX_WORDS_LENGTH = 1000


class WordsPart(BenchPart):
    name = "words"
    heading = "A few words"
    adds = "a few words"
    template = "links/bench/parts/words.html"

    @property
    def is_shown(self) -> bool:
        return True

    def add_fields(self) -> None:
        self.fields["words"] = TextAreaField(
            label="A few words",
            longest=MAX_WORDS_LENGTH,
            required=False,
            help_text="Under the name. *Emphasis*, **strong**, lists and links are understood. Optional.",
            widget=forms.Textarea(attrs={"rows": 4}),
        )

    def read(self) -> dict[str, Any]:
        return {"words": self.link.draft.get("page", {}).get("words", "")}

    @property
    def piece(self) -> str:
        return str(self.cleaned_data["words"])

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        page = without_empty({**draft.document.get("page", {}), "words": change.piece})
        draft.document = {key: value for key, value in draft.document.items() if key != "page"}
        if page:
            draft.put(page=page)
