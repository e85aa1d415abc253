"""Giving labels and taking them away."""

from __future__ import annotations

from typing import Any

from cravik.core.english import listed
from cravik.core.text.faults import fault_words
from cravik.links.bench.saving import change_part
from cravik.links.finding.labels import MAX_LABEL, MAX_LABELS, labels_fault, labels_in
from cravik.links.many.base import ManyAct, NotDone
from cravik.links.models import Link
from cravik.links.refusals import LABELS
from cravik.people.actors import Actor
from cravik.ui.fields import LineField

_LONGEST = MAX_LABELS * (MAX_LABEL + 2)


class LabelAct(ManyAct):
    name = "label"
    title = "Label"
    verb = "Label them"
    done = "labelled"

    give = LineField(label="Add", longest=_LONGEST, missing="", required=False, help_text="Commas between labels.")
    take = LineField(label="Remove", longest=_LONGEST, missing="", required=False)

    def clean(self) -> dict[str, Any]:
        typed = super().clean() or {}
        named = {name: labels_in(typed.get(name, "")) for name in ("give", "take")}
        for name, labels in named.items():
            if fault := labels_fault(labels):
                self.add_error(name, fault_words(fault, LABELS))
        if not any(named.values()) and not self.errors:
            self.add_error("give", "Name a label to add or remove.")
        return typed | named

    def words_of(self, link: Link) -> str:
        before, after = self._before(link), self._after(link)
        if before == after:
            raise NotDone.of("has_that_label")
        return f"{_quoted(before)} → {_quoted(after)}"

    def do(self, link: Link, by: Actor) -> None:
        change_part(link, "labels", self._after(link), link.revision, self.now, by=by)

    def _before(self, link: Link) -> list[str]:
        return list(link.draft.get("labels", []))

    def _after(self, link: Link) -> list[str]:
        taken = {label.casefold() for label in self.cleaned_data["take"]}
        kept = [label for label in self._before(link) if label.casefold() not in taken]
        there = {label.casefold() for label in kept}
        after = kept + [label for label in self.cleaned_data["give"] if label.casefold() not in there]
        if len(after) > MAX_LABELS:
            raise NotDone.of("label_too_many", count=len(after), most=MAX_LABELS)
        return after


def _quoted(labels: list[str]) -> str:
    return listed([f"“{label}”" for label in labels], "and") or "no label"
