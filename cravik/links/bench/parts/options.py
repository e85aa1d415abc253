"""The options of a line that is typed here. Those of an item are the item's."""

from __future__ import annotations

from typing import Any, NamedTuple

from django import forms

from cravik.core.documents.data import OptionData, OptionGroupData, put_or_drop
from cravik.core.documents.parts import MAX_OPTION_GROUPS, MAX_OPTIONS
from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.text.amount_text import parse_signed_amount
from cravik.core.text.faults import fault_words
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.ui.fields import AmountField, GramsField, LineField, Rows, form_rows


class OptionForm(forms.Form):
    """An option."""

    name = LineField(label="Option", longest=120, missing="", required=False)
    add = AmountField(label="Adds")
    weight_g = GramsField(label="Grams more")


OptionRows = form_rows(OptionForm, MAX_OPTIONS, 0)


class Group(NamedTuple):
    """A group on the page: its name, its options, and whether it is shown open."""

    name: forms.BoundField
    rows: Rows
    is_open: bool


class OptionsPart(BenchPart):
    """Up to four groups, each with a name and its options; a group without options is none."""

    name = "options"
    heading = "Options"
    called = "Options"
    found_by = "size colour variants choose"
    has_amounts = True
    template = "links/bench/parts/options.html"
    phrases = ("choices",)

    @property
    def adds(self) -> str:  # type: ignore[override]  # an item's are changed at the item
        return "" if self.line.item else "Options"

    def group_field(self, number: int) -> str:
        return f"options.{self.line.key}.{number}"

    def add_fields(self) -> None:
        if self.line.item:
            return
        groups = self.line.document.get("choices") or []
        for number in range(MAX_OPTION_GROUPS):
            name = self.group_field(number)
            if self.is_bound and f"{name}-TOTAL_FORMS" not in self.data:
                break
            label = "What buyers choose, such as Size" if number == 0 else "And what else, such as Colour"
            self.fields[name] = LineField(label=label, longest=120, missing="", required=False)
            options = groups[number]["options"] if number < len(groups) else []
            initial = [{each: option.get(each) or "" for each in ("name", "add", "weight_g")} for option in options]
            self.lists[name] = OptionRows(self.data if self.is_bound else None, prefix=name, initial=initial)

    def read(self) -> dict[str, Any]:
        groups = self.line.document.get("choices") or []
        return {self.group_field(number): group["name"] for number, group in enumerate(groups)}

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def groups(self) -> list[Group]:
        """All that there may be; one that is not filled in is folded away, but for the first."""
        return [
            Group(self[name], rows, bool(number == 0 or self[name].value() or rows.total_form_count()))
            for number, (name, rows) in enumerate(self.lists.items())
        ]

    def check(self) -> None:
        groups: set[str] = set()
        for name, rows in self.lists.items():
            group = self.cleaned_data.get(name)
            kept = [row for row in rows.kept if row.cleaned_data.get("name") or self._amount(row) is not None]
            if kept and not group:
                self.add_error(name, "Say what buyers choose here.")
            if group and group in groups:
                self.add_error(name, "This name is listed twice.")
            groups.add(group or "")
            options: set[str] = set()
            for row in kept:
                option = row.cleaned_data.get("name")
                if not option:
                    row.add_error("name", "Name the option.")
                elif option in options:
                    row.add_error("name", "This option is listed twice.")
                options.add(option or "")

    def _amount(self, row: forms.Form) -> Money | None:
        """What the option adds, or takes off; None where it does neither."""
        typed = row.cleaned_data.get("add", "")
        if not typed:
            return None
        try:
            return parse_signed_amount(typed, self.typed_currency or self.currency, "add") or None
        except CoreError as error:
            if not row.has_error("add"):
                row.add_error("add", fault_words(error.faults[0]))
            return None

    @property
    def piece(self) -> list[OptionGroupData]:
        groups: list[OptionGroupData] = []
        for of, rows in self.lists.items():
            options: list[OptionData] = []
            for row in rows.kept:
                amount = self._amount(row)
                add = amount.major if amount is not None else None
                if name := row.cleaned_data["name"]:
                    options.append(put_or_drop(OptionData(name=name), add=add, weight_g=row.cleaned_data["weight_g"]))
            if options:
                groups.append({"name": self.cleaned_data[of], "options": options})
        return groups

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_line(change.line, lambda line: put_or_drop(line, choices=change.piece))
