"""How many a seller has of what a line sells. Counting it keeps it in the catalogue."""

from __future__ import annotations

from datetime import datetime

from django import forms

from cravik.catalogue.models import Item
from cravik.catalogue.stock import StockDraft, StockRefused, change_stock, stock_rows
from cravik.catalogue.stock_forms import CountForm
from cravik.links.bench.parts.of_item import ItemForms, OfItemPart
from cravik.people.actors import Actor
from cravik.ui.fields import CountField
from cravik.ui.form_data import FormData

#: So many rows are counted on the bench; whoever has more counts them on the item's own page.
MAX_ROWS = 40


class ItemStock(ItemForms):
    """The counts of an item's variants."""

    not_sent = "The counts were not sent. Load the page again."

    def __init__(self, item: Item, sent: FormData | None = None) -> None:
        self.item = item
        rows = stock_rows(item)
        is_sent = sent is not None and any(f"row-{row.variant.pk}-seen_count" in sent for row in rows[:MAX_ROWS])
        self.counts = [CountForm(sent if is_sent else None, row) for row in rows[:MAX_ROWS]]
        self.left_out = len(rows) - len(self.counts)
        super().__init__(self.counts, is_sent=is_sent)

    def keep(self, now: datetime, by: Actor) -> dict[str, list[str]]:
        try:
            change_stock(self.item, [form.draft for form in self.counts], now, by=by)
        except StockRefused as refused:
            return {f"row-{refused.variant_id}-{refused.field}": [str(refused)]}
        return {}


def count_anew(item: Item, count: int, now: datetime, *, by: Actor) -> None:
    """Count the item, of which nothing was counted before and which has no options."""
    variant = item.variants.get()
    draft = StockDraft(variant.pk, variant.code, count, None, variant.tell_at, sells_beyond=False)
    change_stock(item, [draft], now, by=by)


class FirstCountForm(forms.Form):
    """How many there are of what is not in the catalogue yet."""

    count = CountField(label="How many do you have?")

    def __init__(self, data: FormData | None, line: str) -> None:
        super().__init__(data, prefix=f"first-{line}")
        self.fields["count"].widget.attrs |= {"data-apart": "", "data-enter": f"count:{line}"}


class StockPart(OfItemPart):
    name = "stock"
    heading = "How many you have"
    called = "In stock"
    adds = "How many I have"
    found_by = "stock inventory left count pieces"
    template = "links/bench/parts/stock.html"
    act = "stock"

    @property
    def value(self) -> str:
        """What is left of everything that is counted."""
        item = self.line.item
        counts = [each.count for each in item.variants.all() if each.count is not None] if item else []
        return f"{sum(counts):,}" if counts else ""

    @property
    def first_count(self) -> FirstCountForm | None:
        """What is asked where the line has no options and sells no item."""
        if self.line.item or self.line.document.get("choices"):
            return None
        return FirstCountForm(self.data if self.is_bound else None, self.line.key)

    def forms_of(self, item: Item, sent: FormData | None) -> ItemForms:
        return ItemStock(item, sent)
