"""One question of the seller's as a row of the bench's form."""

from __future__ import annotations

import re
from decimal import Decimal, InvalidOperation
from typing import Any, ClassVar

from django import forms

from cravik.core.documents.data import QuestionData, put
from cravik.links.bench.parts.base import refuse_if_missing
from cravik.ui.fields import CountField, LineField

KINDS = [
    ("short_text", "a line of text"),
    ("long_text", "several lines"),
    ("number", "a number"),
    ("one_of", "one of a list"),
    ("several_of", "several of a list"),
    ("yes_no", "yes or no"),
    ("day", "a day"),
]
#: What of the row counts for which kind, by the names of its fields.
FIELDS_OF: dict[str, tuple[str, ...]] = {
    "short_text": ("shortest", "longest"),
    "long_text": ("shortest", "longest"),
    "number": ("least", "most", "whole"),
    "one_of": ("options",),
    "several_of": ("options", "fewest", "many"),
    "yes_no": (),
    "day": ("earliest", "latest"),
}
_NUMBER = re.compile(r"-?\d{1,15}(?:\.\d{1,6})?", re.ASCII)


class QuestionForm(forms.Form):
    """A question; ``key`` is what answers know it by, ``place`` where it stands among the others."""

    key = forms.CharField(required=False, max_length=80, widget=forms.HiddenInput)
    place = forms.IntegerField(label="Place", required=False, min_value=0, max_value=999)
    label = LineField(label="Question", longest=120, missing="", required=False)
    kind = forms.ChoiceField(label="Answered by", choices=KINDS, initial="short_text")
    required = forms.BooleanField(label="Required", required=False)
    help = LineField(label="Help under it", longest=500, missing="", required=False)
    options = LineField(label="Choices, separated by commas", longest=2000, missing="", required=False)
    shortest = CountField(label="Fewest characters", most=5000)
    longest = CountField(label="Most characters", most=5000)
    least = forms.CharField(label="Minimum", required=False, max_length=22)
    most = forms.CharField(label="Maximum", required=False, max_length=22)
    whole = forms.BooleanField(label="Whole numbers only", required=False)
    fewest = CountField(label="Fewest", most=50)
    many = CountField(label="Most", most=50)
    earliest = forms.DateField(label="From", required=False, widget=forms.DateInput(attrs={"type": "date"}))
    latest = forms.DateField(label="Until", required=False, widget=forms.DateInput(attrs={"type": "date"}))

    #: What documents call a field that is called otherwise here.
    _NAMES: ClassVar = {"fewest": "least", "many": "most"}

    @property
    def shown(self) -> list[tuple[str, list[forms.BoundField]]]:
        """What a question of some kinds is made of, with those kinds, as the row shows it."""
        return [(kinds, fields) for kinds, fields in self._by_kinds() if fields[0].name == "options"]

    @property
    def bounds(self) -> list[tuple[str, list[forms.BoundField]]]:
        """The same of what bounds its answers, which the row folds away."""
        return [(kinds, fields) for kinds, fields in self._by_kinds() if fields[0].name != "options"]

    @property
    def is_bounded(self) -> bool:
        """Whether anything that is folded away says something, or is wrong."""
        names = [field.name for _, fields in self.bounds for field in fields] + ["help"]
        return any(self[name].value() or self[name].errors for name in names)

    def _by_kinds(self) -> list[tuple[str, list[forms.BoundField]]]:
        """Fields that count for some kinds only, with those kinds."""
        groups: dict[tuple[str, ...], list[str]] = {}
        for kind, names in FIELDS_OF.items():
            if names:
                groups.setdefault(names, []).append(kind)
        parted: dict[str, list[str]] = {}
        for names, kinds in groups.items():
            for name in names:
                parted.setdefault(name, []).extend(kinds)
        by_kinds: dict[str, list[forms.BoundField]] = {}
        for name, kinds in parted.items():
            by_kinds.setdefault(" ".join(kinds), []).append(self[name])
        return list(by_kinds.items())

    @property
    def is_blank(self) -> bool:
        """Whether it was added and nothing was typed into it."""
        return not self.initial and set(self.changed_data) <= {"key", "place"}

    @property
    def choices(self) -> list[str]:
        """The options that were typed, each once."""
        parts = (part.strip() for part in self.cleaned_data.get("options", "").split(","))
        return list(dict.fromkeys(part for part in parts if part))

    def check(self) -> None:
        """Tell at its fields what is wrong or missing."""
        refuse_if_missing(self, "label", "Write the question, or remove the row.")
        kind = self.cleaned_data.get("kind", "")
        if kind in ("one_of", "several_of"):
            if not self.choices:
                self.add_error("options", "Write what can be picked, with commas between.")
            elif len(self.choices) > 50 or any(len(each) > 120 for each in self.choices):
                self.add_error("options", "Up to 50, each of up to 120 characters.")
        if kind == "number":
            for name in ("least", "most"):
                self._number(name)
        for low, high in (("shortest", "longest"), ("fewest", "many"), ("earliest", "latest")):
            if low in FIELDS_OF.get(kind, ()):
                least, most = self.cleaned_data.get(low), self.cleaned_data.get(high)
                if least is not None and most is not None and most < least:
                    self.add_error(high, "The most is not below the least.")
        longest = self.cleaned_data.get("longest")
        if kind == "short_text" and longest and longest > 200:
            self.add_error("longest", "A line has up to 200 characters.")

    def _number(self, name: str) -> Decimal | None:
        typed = self.cleaned_data.get(name, "").strip().replace(",", ".").replace("−", "-")
        if not typed:
            return None
        try:
            if not _NUMBER.fullmatch(typed):
                raise InvalidOperation
            return Decimal(typed)
        except InvalidOperation:
            if not self.has_error(name):
                self.add_error(name, "Write a number, such as 3 or 0.5.")
            return None

    def document(self, key: str) -> QuestionData:
        """The question as documents have it, of a row that was checked."""
        typed, kind = self.cleaned_data, self.cleaned_data["kind"]
        question: QuestionData = {"key": key, "kind": kind, "label": typed["label"]}
        if typed.get("required"):
            question["required"] = True
        if typed.get("help"):
            question["help"] = typed["help"]
        for name in FIELDS_OF[kind]:
            value: Any = typed.get(name)
            if name == "options":
                value = self.choices
            elif kind == "number" and name in ("least", "most"):
                number = self._number(name)
                value = None if number is None else int(number) if number == number.to_integral_value() else str(number)
            elif name in ("earliest", "latest"):
                value = value.isoformat() if value else None
            if value not in (None, False, "", []):
                question = put(question, **{self._NAMES.get(name, name): value})
        return question


def shown_of(question: QuestionData, place: int) -> dict[str, Any]:
    """What a row shows of a question of a draft."""
    shown: dict[str, Any] = {"key": question["key"], "place": place, "kind": question["kind"]}
    shown |= {name: question.get(name, "") for name in ("label", "help")} | {
        "required": question.get("required", False)
    }
    for name in FIELDS_OF[question["kind"]]:
        named = QuestionForm._NAMES.get(name, name)  # its own
        shown[name] = ", ".join(question.get("options", [])) if name == "options" else {**question}.get(named, "")
    return shown
