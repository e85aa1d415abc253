"""What is left of an item, and the pictures of its options: those are the catalogue's, in every link that sells it.

They are no piece of the document: the act ``stock`` writes them, and ``count`` keeps what is typed here in the
catalogue first.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from django import forms

from cravik.catalogue.models import Item, Option
from cravik.catalogue.services import show_options
from cravik.catalogue.stock import StockRefused, change_stock, stock_rows
from cravik.catalogue.stock_forms import CountForm, OptionPictureForm, named_pictures
from cravik.links.bench.changes import Change
from cravik.links.bench.parts.base import BenchPart, Sent
from cravik.links.models import items_of_draft

_GONE = "What is left was not sent. Load the page again."
_NOT_SAVED = "Save this first, by the button below."
#: So many rows are counted on the bench; whoever has more counts them on the item's own page.
MAX_ROWS = 40


class ItemStock:
    """The fields for what is left of an item and the pictures of its options, as sent or as they are."""

    def __init__(self, item: Item, sent: Sent | None = None) -> None:
        self.item = item
        rows = stock_rows(item)
        named = named_pictures(item)
        options = Option.objects.filter(group__item=item).order_by("group__position", "position") if named else ()
        self.is_sent = sent is not None and any(f"row-{row.variant.pk}-seen_count" in sent for row in rows[:MAX_ROWS])
        data = sent if self.is_sent else None
        self.counts = [CountForm(data, row) for row in rows[:MAX_ROWS]]
        self.left_out = len(rows) - len(self.counts)
        self.pictures = [OptionPictureForm(data, option, named) for option in options]
        for form in self.forms:
            for field in form.fields.values():
                field.widget.attrs["data-apart"] = ""  # it is not saved as it is typed: buyers see it at once

    @property
    def forms(self) -> list[forms.Form]:
        return [*self.counts, *self.pictures]

    @property
    def faults(self) -> dict[str, list[str]]:
        """What is wrong, by the names of fields."""
        return {
            form.add_prefix(name): [str(each) for each in told]
            for form in self.forms
            for name, told in form.errors.items()
        }

    @property
    def is_changed(self) -> bool:
        return any(form.has_changed() for form in self.forms)

    def refuse_unsaved(self) -> None:
        """Tell at the first field that was changed that it has a button of its own."""
        form = next(form for form in self.forms if form.has_changed())
        if not form.errors:
            form.add_error(form.changed_data[0], _NOT_SAVED)

    def write(self) -> dict[str, list[str]]:
        """Keep what was sent; returns what is wrong, and nothing is kept then."""
        if found := self.faults:
            return found
        if not self.is_sent:
            return {"__all__": [_GONE]}
        try:
            change_stock(self.item, [form.draft for form in self.counts])
        except StockRefused as refused:
            return {f"row-{refused.variant_id}-{refused.field}": [str(refused)]}
        show_options(self.item, {form.option.pk: form.cleaned_data["picture"] for form in self.pictures})
        return {}


class StockPart(BenchPart):
    name = "stock"
    lies_with = "options"
    template = "links/bench/parts/stock.html"

    @property
    def adds(self) -> str:  # type: ignore[override]  # of an item with options, these open it
        item = self.line.item
        return "a count of what is left" if item and not self.line.document.get("choices") else ""

    @property
    def is_shown(self) -> bool:
        return True

    @cached_property
    def stock(self) -> ItemStock | None:
        """The item's; of two lines that sell the same one, the first has it."""
        item = self.line.item
        if item is None or self.first_seller != self.line.key:
            return None
        return ItemStock(item, self.data if self.is_bound else None)

    @property
    def first_seller(self) -> str:
        """The first line that sells the line's item."""
        sold = items_of_draft(self.link)
        keys = (line["key"] for line in self.link.draft["offer"]["lines"])
        return next((key for key in keys if key in sold and sold[key] == self.line.item), "")

    @property
    def is_sent(self) -> bool:
        return self.stock is not None and self.stock.is_sent

    def is_valid(self) -> bool:
        return not self.faults

    @property
    def faults(self) -> dict[str, list[str]]:
        """Whoever changed a count and pressed another button is told: it would be lost."""
        if not self.stock or not self.is_sent:
            return {}
        if self.data.get("act") != f"stock:{self.line.key}":
            if not self.stock.is_changed:
                return {}
            self.stock.refuse_unsaved()
        return self.stock.faults

    def changes(self) -> Iterator[Change]:
        return iter(())
