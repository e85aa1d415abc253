"""What follows a payment: a message, a page to go on to, and the page for who cancels."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.documents.data import AfterData, put
from cravik.core.documents.link import MAX_MESSAGE_LENGTH
from cravik.core.link.content import AFTER_PLACEHOLDERS
from cravik.core.link.onward import is_web_address, onward_address
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.placeholders import refuse_others
from cravik.links.places.onward import signing_key
from cravik.ui.fields import LineField, MarkedTextField

_ADDRESSES = ("go_to", "cancelled")
_LONGEST = 500


class AfterPart(BenchPart):
    name = "after"
    heading = "After paying"
    mark = "message"
    called = "After paying"
    adds = "Message or page after paying"
    found_by = "thank you redirect confirmation"
    template = "links/bench/parts/after.html"
    shown_on = "after"
    phrases = ("after",)

    @property
    def value(self) -> str:
        return next((str(each) for each in self.read().values() if each), "")

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def before(self) -> AfterData:
        return self.link.draft.get("after", {})

    def add_fields(self) -> None:
        known = ", ".join(f"{{{each}}}" for each in AFTER_PLACEHOLDERS)
        self.fields["message"] = MarkedTextField(
            label="Message",
            longest=MAX_MESSAGE_LENGTH,
            required=False,
            help_text=f"On the page after paying, and in the receipt. You can use {known}.",
            widget=forms.Textarea(attrs={"rows": 4, "placeholder": "Thank you, {buyer}."}),
        )
        self.fields["go_to"] = self._address("Redirect to", "https://your-site.example/thanks")
        self.fields["go_to"].help_text = "The page goes there by itself after ten seconds, unless the buyer stops it."
        self.fields["cancelled"] = self._address("Cancel link", "https://your-site.example/")
        self.fields["cancelled"].help_text = "A link under the pay button. Leave blank for none."

    def _address(self, label: str, sample: str) -> LineField:
        widget = forms.TextInput(attrs={"inputmode": "url", "autocomplete": "off", "placeholder": sample})
        return LineField(label=label, longest=_LONGEST, missing="", required=False, widget=widget)

    def read(self) -> dict[str, Any]:
        before: dict[str, Any] = {**self.before}
        return {name: before.get(name) or "" for name in ("message", *_ADDRESSES)}

    def check(self) -> None:
        refuse_others(self, "message", AFTER_PLACEHOLDERS)
        for name in _ADDRESSES:
            address = self.cleaned_data.get(name)
            if address and not is_web_address(address):
                self.add_error(name, "Write an address that begins with https://, such as https://your-site.example/.")

    @property
    def piece(self) -> AfterData:
        return put(AfterData(), **{name: self.cleaned_data[name] for name in ("message", *_ADDRESSES)})

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_section("after", **change.piece)

    @property
    def key(self) -> str:
        """With which the seller's own page can check the order's reference."""
        return signing_key(self.link.business_id)

    @property
    def example(self) -> str:
        go_to = self.before.get("go_to") or "https://your-site.example/thanks"
        return onward_address(go_to, "7K2M9QX4T1ZB", self.key.encode())
