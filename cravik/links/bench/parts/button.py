"""What the pay button says."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.link.content import BUTTON_PLACEHOLDERS
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.placeholders import refuse_others
from cravik.ui.fields import LineField

MAX_BUTTON = 60


class ButtonPart(BenchPart):
    name = "button"
    heading = "The pay button"
    called = "Button"
    adds = "Words for the pay button"
    template = "links/bench/parts/button.html"
    phrases = ("page.button",)

    @property
    def value(self) -> str:
        return str(self.read()["button"])

    @property
    def is_shown(self) -> bool:
        return True

    def add_fields(self) -> None:
        self.fields["button"] = LineField(
            label="What it says",
            longest=MAX_BUTTON,
            missing="",
            required=False,
            help_text="{amount} stands for the sum; without it, the sum follows your words. Empty: “Pay” and the sum.",
            widget=forms.TextInput(attrs={"autocomplete": "off", "placeholder": "Pay {amount}"}),
        )

    def read(self) -> dict[str, Any]:
        return {"button": self.link.draft.get("page", {}).get("button", "")}

    def check(self) -> None:
        refuse_others(self, "button", BUTTON_PLACEHOLDERS)

    @property
    def piece(self) -> str:
        return str(self.cleaned_data["button"])

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_section("page", button=change.piece)
