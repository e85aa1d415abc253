"""A note, a reference, and whether the buyer wants to hear of news: asked where the seller asks it."""

from __future__ import annotations

from django import forms
from django.utils import timezone

from cravik.checkout.parts.base import OrderPart, Submitted, tick
from cravik.core.link.asks import LabelledAsk
from cravik.ui.fields import LineField, TextAreaField


class NotesPart(OrderPart):
    name = "notes"
    template = "checkout/parts/notes.html"
    may_go = ("*",)
    step = "Notes"

    def add_fields(self) -> None:
        asks = self.offered.version.content.asks
        if asks.reference.ask != "no":
            self.fields["reference"] = LineField(
                label=asks.reference.label or "Your reference",
                longest=100,
                missing="Write the reference.",
                required=asks.reference.ask == "required",
                help_text=_optional(asks.reference),
                widget=forms.TextInput(attrs={"autocomplete": "off"}),
            )
        if asks.note.ask != "no":
            self.fields["note"] = TextAreaField(
                label=asks.note.label or "A note to the seller",
                longest=1000,
                required=asks.note.ask == "required",
                help_text=_optional(asks.note),
                error_messages={"required": "Write a few words."},
                widget=forms.Textarea(attrs={"rows": 3}),
            )
        if asks.newsletter:
            # Never ticked beforehand, by the address neither: consent is the buyer's own act.
            self.fields["newsletter"] = tick(asks.newsletter)

    def fillable(self) -> set[str]:
        return set(self.fields) - {"newsletter"}

    def submit(self, to: Submitted) -> None:
        cleaned = self.cleaned_data
        to.answers += [
            {"key": name, "label": str(self.fields[name].label), "answer": cleaned[name]}
            for name in ("reference", "note")
            if cleaned.get(name)
        ]
        if "newsletter" in self.fields and cleaned.get("newsletter"):
            label = str(self.fields["newsletter"].label)
            at = timezone.now().isoformat(timespec="seconds")
            to.answers.append({"key": "newsletter", "label": label, "answer": True, "at": at})


def _optional(ask: LabelledAsk) -> str:
    return "Optional." if ask.ask == "optional" else ""
