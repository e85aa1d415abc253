"""Parts of a line that are the catalogue's: pictures, what is left, files. They hold in every link that sells the item.

They are no piece of the document. What is filled in here has a button of its own, since buyers see it at once.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import datetime
from functools import cached_property
from typing import ClassVar

from django import forms

from cravik.catalogue.models import Item
from cravik.links.bench.changes import Change
from cravik.links.bench.parts.base import BenchPart
from cravik.links.models import items_of_draft
from cravik.people.actors import Actor
from cravik.ui.form_data import FormData

_NOT_SAVED = "Save this first, by the button below."


class ItemForms:
    """Fields about an item, as they were sent or as they are."""

    #: What is told where none of them was sent.
    not_sent: ClassVar[str] = ""

    def __init__(self, shown: Sequence[forms.Form], *, is_sent: bool) -> None:
        self.forms = shown
        self.is_sent = is_sent
        for form in shown:
            for field in form.fields.values():
                field.widget.attrs["data-apart"] = ""  # it is not saved as it is typed

    @property
    def faults(self) -> dict[str, list[str]]:
        """What is wrong, by the names of fields."""
        return {
            form.add_prefix(name): [str(each) for each in errors]
            for form in self.forms
            for name, errors in form.errors.items()
        }

    @property
    def is_changed(self) -> bool:
        return any(form.has_changed() for form in self.forms)

    def write(self, now: datetime, by: Actor) -> dict[str, list[str]]:
        """Keep what was sent; returns what is wrong, and nothing is kept then."""
        if found := self.faults:
            return found
        return self.keep(now, by) if self.is_sent else {"__all__": [self.not_sent]}

    def keep(self, now: datetime, by: Actor) -> dict[str, list[str]]:
        """Keep what valid fields say; returns what is wrong with it all the same."""
        return {}

    def refuse_unsaved(self) -> None:
        """Tell at the first field that was changed that it has a button of its own."""
        form = next(form for form in self.forms if form.has_changed())
        if not form.errors:
            form.add_error(form.changed_data[0], _NOT_SAVED)


class OfItemPart(BenchPart):
    """A part of what the catalogue has of a line's item. Of two lines that sell the same one, the first has it."""

    is_added_first = True
    #: The act that writes what is filled in.
    act: ClassVar[str]

    @property
    def is_shown(self) -> bool:
        return True

    @cached_property
    def item(self) -> Item | None:
        if self.line.item is None:
            return None
        sold = items_of_draft(self.link)
        keys = (line["key"] for line in self.link.draft["offer"]["lines"])
        first = next((key for key in keys if key in sold and sold[key] == self.line.item), "")
        return self.line.item if first == self.line.key else None

    @property
    def is_elsewhere(self) -> bool:
        """Whether another line has it, which sells the same item."""
        return self.line.item is not None and self.item is None

    def forms_of(self, item: Item, sent: FormData | None) -> ItemForms:
        """Its fields for the item; without any where it has none."""
        return ItemForms((), is_sent=False)

    @cached_property
    def of_item(self) -> ItemForms | None:
        return self.forms_of(self.item, self.data if self.is_bound else None) if self.item else None

    @property
    def is_sent(self) -> bool:
        return self.of_item is not None and self.of_item.is_sent

    def is_valid(self) -> bool:
        return not self.faults

    @property
    def faults(self) -> dict[str, list[str]]:
        """Whoever changed something here and pressed another button is told: it would be lost."""
        if not self.of_item or not self.is_sent:
            return {}
        if self.data.get("act") != f"{self.act}:{self.line.key}":
            if not self.of_item.is_changed:
                return {}
            self.of_item.refuse_unsaved()
        return self.of_item.faults

    def changes(self) -> Iterator[Change]:
        return iter(())
