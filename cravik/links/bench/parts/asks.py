"""What buyers are asked beside name and e-mail, by questions that the page knows itself."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.core.documents.data import AsksData, LabelledAskData, put, put_or_drop, without_empty
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.ui.fields import LineField

_ASK = [("no", "not asked"), ("optional", "optional"), ("required", "required")]
_LABELLED = (
    ("note", "A note", "A note to the seller"),
    ("reference", "A reference", "Your reference"),
)
#: What is asked, in a word.
_SHORT = {
    "phone": "phone",
    "address": "address",
    "invoice": "company",
    "note": "note",
    "reference": "reference",
    "newsletter": "newsletter",
    "keep_card": "card kept",
}
MAX_LABEL, MAX_NEWSLETTER = 120, 300


class AsksPart(BenchPart):
    name = "asks"
    heading = "What else buyers tell you"
    mark = "ask_phone"
    called = "Asked"
    adds = "Phone, address or note"
    found_by = "ask contact company tax number invoice reference newsletter keep card"
    template = "links/bench/parts/asks.html"
    phrases = ("asks",)

    @property
    def value(self) -> str:
        return ", ".join(words for name, words in _SHORT.items() if name in self.before)

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def before(self) -> AsksData:
        return self.link.draft.get("asks", {})

    def add_fields(self) -> None:
        self.fields["ask_phone"] = forms.ChoiceField(label="Phone", choices=_ASK)
        self.fields["ask_address"] = forms.ChoiceField(
            label="Postal address",
            choices=[("if sent", "if something is sent"), *_ASK[1:]],
        )
        self.fields["ask_invoice"] = forms.ChoiceField(
            label="Company and tax number", choices=_ASK[:2], help_text="For an invoice."
        )
        for name, label, usual in _LABELLED:
            self.fields[f"ask_{name}"] = forms.ChoiceField(label=label, choices=_ASK)
            self.fields[f"label_{name}"] = LineField(
                label=f"What {label.lower()} is called",
                longest=MAX_LABEL,
                missing="",
                required=False,
                widget=forms.TextInput(attrs={"placeholder": usual}),
            )
        self.fields["newsletter_words"] = LineField(
            label="Newsletter",
            longest=MAX_NEWSLETTER,
            missing="",
            required=False,
            help_text="A box to tick, such as “Tell me what is new, about once a month”. Leave blank not to ask.",
        )

        self.fields["keep_card"] = forms.BooleanField(
            label="Keep the card",
            required=False,
            help_text="For sums that you agree on later. The buyer is told each sum and why before, and can say no.",
        )

    def read(self) -> dict[str, Any]:
        asks = self.before
        shown = {
            "ask_phone": asks.get("phone", "no"),
            "ask_address": asks.get("address", "if sent"),
            "ask_invoice": asks.get("invoice", "no"),
            "newsletter_words": asks.get("newsletter") or "",
            "keep_card": asks.get("keep_card", False),
        }
        of_name = {"note": asks.get("note", {}), "reference": asks.get("reference", {})}
        for name, _, _ in _LABELLED:
            labelled = of_name[name]
            shown |= {f"ask_{name}": labelled.get("ask", "no"), f"label_{name}": labelled.get("label", "")}
        return shown

    @property
    def piece(self) -> AsksData:
        typed = self.cleaned_data
        labelled = {
            name: put_or_drop(LabelledAskData(ask=typed[f"ask_{name}"]), label=typed[f"label_{name}"])
            for name, _, _ in _LABELLED
        }
        asks = {name: typed[f"ask_{name}"] for name in ("phone", "address", "invoice")}
        ticked = AsksData(newsletter=typed["newsletter_words"], keep_card=typed["keep_card"])
        return put(ticked, **asks, **labelled)

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """What is not asked is said by nothing."""
        usual = {
            "phone": "no",
            "address": "if sent",
            "invoice": "no",
            "note": {"ask": "no"},
            "reference": {"ask": "no"},
        }
        differing = {name: value for name, value in change.piece.items() if value and value != usual.get(name)}
        kept = {name: value for name, value in (draft.document.get("asks") or {}).items() if name not in change.piece}
        draft.put_or_drop("asks", without_empty({**kept, **differing}))
