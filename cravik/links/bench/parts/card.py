"""The card that social apps show of the link: its title and words; the rest is the offer's and the look's."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.core.documents.data import SocialCardData, put_or_drop
from cravik.core.text.price_words import price_in_words
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.ui.fields import LineField

MAX_TITLE, MAX_WORDS = 120, 300


class CardPart(BenchPart):
    name = "card"
    heading = "The card that social apps show"
    mark = "card_title"
    called = "Card"
    adds = "Title for social apps"
    found_by = "card preview share search engines"
    template = "links/bench/parts/card.html"
    phrases = ("page.card",)
    pieces: ClassVar = {"card": "links/bench/parts/_card_shown.html"}

    @property
    def value(self) -> str:
        return str(self.before.get("title") or self.before.get("words") or "")

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def before(self) -> SocialCardData:
        return self.link.draft.get("page", {}).get("card", {})

    def add_fields(self) -> None:
        self.fields["card_title"] = LineField(
            label="Title",
            longest=MAX_TITLE,
            missing="",
            required=False,
            widget=forms.TextInput(attrs={"autocomplete": "off", "placeholder": self.link.title}),
        )
        self.fields["card_words"] = LineField(
            label="Words under it",
            longest=MAX_WORDS,
            missing="",
            required=False,
            help_text="Search engines show it too. Leave blank for the price and your name.",
        )

    def read(self) -> dict[str, Any]:
        return {"card_title": self.before.get("title", ""), "card_words": self.before.get("words", "")}

    @property
    def piece(self) -> SocialCardData:
        typed = self.cleaned_data
        return put_or_drop(SocialCardData(), title=typed["card_title"], words=typed["card_words"])

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_section("page", card=change.piece)

    @property
    def title(self) -> str:
        return str(self.before.get("title") or self.link.title)

    @property
    def words(self) -> str:
        """What stands under the title: the seller's words, or else the price and the name."""
        usual = f"{price_in_words(self.link.offer)} to {self.link.business.name}" if self.link.effective else ""
        return str(self.before.get("words") or usual)
