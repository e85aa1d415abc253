"""What every part of the bench is made of."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar

from django import forms

from cravik.catalogue.models import Item
from cravik.core.documents.data import LineData
from cravik.core.pricing.currency import known_currency
from cravik.core.pricing.money import Money
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.models import Link, items_of_draft
from cravik.ui.fields import Rows, clean_amount
from cravik.ui.form_data import FormData


@dataclass(frozen=True)
class BenchLine:
    """A line of the draft as it is the current draft, with the item that it sells, if it sells one."""

    key: str
    document: LineData
    item: Item | None
    is_first: bool
    is_last: bool

    @property
    def is_only(self) -> bool:
        return self.is_first and self.is_last

    @property
    def name(self) -> str:
        return str(self.document.get("name", ""))


def lines_on_bench(link: Link) -> list[BenchLine]:
    """The lines of the link's draft, in order."""
    lines, items = link.draft["offer"]["lines"], items_of_draft(link)
    return [
        BenchLine(line["key"], line, items.get(line["key"]), number == 0, number == len(lines) - 1)
        for number, line in enumerate(lines)
    ]


class BenchPart(forms.Form):
    """One subject of a link: its fields, and its piece of the link document. A part of a line has a ``line``.

    A part may have lists of rows beside its fields (``lists``). Parts that lie side by side share a ``panel``.
    """

    name: ClassVar[str]
    template: ClassVar[str]
    #: What the seller calls the panel that it lies on; the first of a panel's parts says it.
    heading: ClassVar[str] = ""
    #: The panel it shares with another part, by that part's name; empty: one of its own.
    lies_with: ClassVar[str] = ""
    #: What it is called in the row of what is set, in a word or two; empty: it is not listed there.
    called: ClassVar[str] = ""
    #: What the list of things to add calls it while nothing is said of it; empty: it is not listed there.
    adds: ClassVar[str] = ""
    #: Other words that sellers look for it by.
    found_by: ClassVar[str] = ""
    #: Whether it is what most sellers add first.
    is_added_first: ClassVar[bool] = False
    #: Whether amounts stand in its fields.
    has_amounts: ClassVar[bool] = False
    #: A field that is always sent with it, by which it shows whether it was; empty: any of its fields.
    mark: ClassVar[str] = ""
    #: On which of the buyer's pages it is seen.
    shown_on: ClassVar[str] = "before"
    #: Templates of what is told of the draft beside its fields, by the names under which the page has them.
    pieces: ClassVar[Mapping[str, str]] = {}
    #: The paths of the offer sentence's phrases that open it; of a part of a line, what follows ``lines[0].``.
    phrases: ClassVar[tuple[str, ...]] = ()

    def __init__(self, link: Link, line: BenchLine | None = None, data: FormData | None = None) -> None:
        self.link = link
        self._line = line
        self._lists: dict[str, Rows] = {}
        self._is_made = self._is_checked = False
        super().__init__(data)

    # Made when somebody looks: the sentence alone asks twenty lines for their panels, and for no field.
    @property  # where Django's forms have an attribute
    def fields(self) -> dict[str, forms.Field]:
        self._make()
        return self._fields

    @fields.setter
    def fields(self, made: dict[str, forms.Field]) -> None:
        self._fields = made

    @cached_property
    def _initial_values(self) -> dict[str, Any]:
        return self.read()

    # Read when somebody looks, as its fields are made.
    @property  # type: ignore[override]  # it is never written
    def initial(self) -> dict[str, Any]:
        return self._initial_values

    @initial.setter
    def initial(self, _: Any) -> None:
        """Nothing: what its fields show is what it reads of the draft."""

    @property
    def lists(self) -> dict[str, Rows]:
        self._make()
        return self._lists

    def _make(self) -> None:
        if not self._is_made:
            self._is_made = True
            self.add_fields()

    def add_fields(self) -> None:
        """Give the form what can be changed here."""

    def add_rows(self, name: str, kind: type[Rows], initial: list[dict[str, Any]], **for_each: Any) -> None:
        """Give the form a list of rows, whose fields are named after the part's line; ``for_each`` goes to each row."""
        prefix = f"{name}.{self._line.key}" if self._line else name
        data = self.data if self.is_bound else None
        self.lists[name] = kind(data, prefix=prefix, initial=initial, form_kwargs=for_each)

    @property
    def lines_to_choose(self) -> list[tuple[str, str]]:
        """The lines of the draft by their keys, with their names."""
        return [(line["key"], line.get("name") or line["key"]) for line in self.link.draft["offer"]["lines"]]

    @property
    def line(self) -> BenchLine:
        assert self._line is not None, f"{self.name} is a part of the whole link"
        return self._line

    @property
    def is_of_line(self) -> bool:
        return self._line is not None

    @property
    def currency(self) -> str:
        """The draft's."""
        return str(self.link.draft["offer"]["currency"])

    @property
    def typed_currency(self) -> str | None:
        """The currency that is chosen on the sheet, or the draft's; None where what was sent is none."""
        return known_currency(str(self.data.get("currency", self.currency))) if self.is_bound else self.currency

    def amount(self, form: forms.Form, name: str) -> Money | None:
        """The amount in a field of it or of one of its rows; None where it is empty, or cannot be read, which is told
        there."""
        currency = self.typed_currency
        return clean_amount(form, name, currency) if currency else None

    @property
    def editor(self) -> str:
        """What the page calls it; the phrases of the sentence name it."""
        return f"{self.name}-{self._line.key}" if self._line else self.name

    @property
    def panel(self) -> str:
        """What the page calls the panel that it lies on."""
        name = self.lies_with or self.name
        return f"{name}-{self._line.key}" if self._line else name

    @property
    def is_shown(self) -> bool:
        return bool(self.fields or self.lists)

    @property
    def is_reshaped(self) -> bool:
        """Whether its panel has other fields once a valid form is saved."""
        return False

    @property
    def value(self) -> str:
        """What the draft says of it in a few words, where the sentence's phrases say it less well, or nothing."""
        return ""

    def opens(self, phrase: str) -> bool:
        """Whether the phrase at that path of the sentence opens it."""
        return phrase in self.phrases

    def read(self) -> dict[str, Any]:
        """What its fields show of the draft."""
        return {}

    @property
    def is_sent(self) -> bool:
        """Whether the form that was sent has it; what it does not have stays as it is."""
        if self.mark:
            return self.mark in self.data
        marks = [*self.fields, *(f"{rows.prefix}-TOTAL_FORMS" for rows in self.lists.values())]
        return any(name in self.data for name in marks)

    def is_valid(self) -> bool:
        """Whether all of it can be taken. Each list is asked too, so that every fault is told at once."""
        if self.is_sent and not self._is_checked:
            self._is_checked = True
            super().is_valid()
            for rows in self.lists.values():
                rows.is_valid()
            self.check()
        return not self.faults

    def check(self) -> None:
        """Look at what its fields and rows say together, as far as each can be read; faults are told at fields."""

    @property
    def faults(self) -> dict[str, list[str]]:
        """What is wrong, by the names of fields as they are sent; what stands at none, by ``__all__``."""
        if not self.is_sent:
            return {}
        found = {name: [str(each) for each in errors] for name, errors in self.errors.items()}
        for rows in self.lists.values():
            for row in rows.forms:
                for name, errors in row.errors.items():
                    found[row.add_prefix(name)] = [str(each) for each in errors]
            if errors := rows.non_form_errors():
                found["__all__"] = found.get("__all__", []) + [str(each) for each in errors]
        return found

    @property
    def piece(self) -> Any:
        """Its piece of the document, as a valid form says it."""
        raise NotImplementedError

    def changes(self) -> Iterator[Change]:
        """What a valid form changes; nothing where there is nothing to change here, and nothing where only the currency
        changed: an amount is never taken over into another as it stands."""
        if self.is_sent and not (self.has_amounts and self.is_of_former_currency):
            yield Change(self.name, self.piece, self._line.key if self._line else "")

    @property
    def is_of_former_currency(self) -> bool:
        """Whether another currency is chosen now, and nothing else was typed here."""
        if self.typed_currency == self.currency:
            return False
        return not (self.has_changed() or any(rows.has_changed() for rows in self.lists.values()))

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """Put its piece into the draft."""
        raise NotImplementedError


def refuse_if_missing(row: forms.Form, name: str, words: str) -> bool:
    """Tell at the row's field that something has to stand there, and whether that was so."""
    empty = row.cleaned_data.get(name) in ("", None)
    if empty and not row.has_error(name):
        row.add_error(name, words)
    return empty
