"""The catalogue as a table: writing its rows, and reading each row into a draft with everything wrong with it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from django.forms import ValidationError

from cravik.catalogue.cells import escaped, joined, parted, plain, split
from cravik.catalogue.drafts import (
    MAX_OPTION_GROUPS,
    MAX_OPTION_NAME,
    MAX_OPTIONS,
    MAX_PRICES,
    ItemDraft,
    OptionDraft,
    OptionGroupDraft,
    PriceDraft,
    variants_fault,
)
from cravik.catalogue.forms import ItemForm
from cravik.catalogue.models import Item
from cravik.catalogue.refusals import CELLS
from cravik.core.errors import CoreError, Fault
from cravik.core.pricing.currency import known_currency
from cravik.core.pricing.money import Money
from cravik.core.text.amount_text import parse_signed_amount
from cravik.core.text.faults import fault_words
from cravik.ui.fields import MAX_WEIGHT_G, clean_line
from cravik.ui.spreadsheets import as_text

MAX_ROWS = 5000
COLUMNS = (
    *("code", "name", "words", "kind", "weight_g", "tax_category", "currency", "prices"),
    *(f"{part}_{number}" for number in range(1, MAX_OPTION_GROUPS + 1) for part in ("choice", "options")),
    "stock",
)
_FIELDS = ItemForm.base_fields
_KINDS = {name.casefold(): kind.value for kind in Item.Kind for name in (kind.value, kind.label)}
_YES = ("yes", "y", "true", "1", "x")
_MAX_COUNT = 1_000_000


@dataclass(frozen=True, slots=True)
class CellFault:
    """What is wrong, where: the line of the file, the column, and what stands there."""

    line: int
    column: str
    cell: str
    fault: Fault

    @property
    def message(self) -> str:
        return fault_words(self.fault, CELLS)


@dataclass(frozen=True, slots=True)
class StockEntry:
    """Stock of the variant of these options (by their names, in the order of the groups)."""

    options: tuple[str, ...]
    code: str
    count: int | None
    tell_at: int | None
    sells_beyond: bool


@dataclass(frozen=True, slots=True)
class ItemRow:
    """A row that can be taken. ``stock`` is None where the table says nothing of it."""

    line: int
    draft: ItemDraft
    stock: tuple[StockEntry, ...] | None


def table_row(item: Item) -> list[str]:
    """The item as a row under ``COLUMNS``; it needs its prices, groups, options and variants at hand."""
    option_groups = list(item.option_groups.all())
    named = {option.pk: option.name for group in option_groups for option in group.options.all()}
    places = {option.pk: place for place, group in enumerate(option_groups) for option in group.options.all()}
    groups: list[str] = []
    for group in option_groups:
        options = [
            (option.name, option.add.major if option.add_minor else "", str(option.weight_g or ""), option.code)
            for option in group.options.all()
        ]
        groups += [group.name, joined(options)]
    stock = [
        (
            " + ".join(escaped(named[each]) for each in sorted(variant.option_ids, key=lambda each: places[each])),
            escaped(variant.code),
            "" if variant.count is None else str(variant.count),
            "" if variant.tell_at is None else str(variant.tell_at),
            "yes" if variant.sells_beyond else "",
        )
        for variant in item.variants.all()
        if variant.count is not None or variant.code or variant.tell_at is not None
    ]
    return [
        as_text(cell)
        for cell in (
            item.code,
            item.name,
            item.words,
            item.kind,
            str(item.weight_g or ""),
            item.tax_category,
            item.currency,
            joined((price.amount.major, price.label) for price in item.prices.all()),
            *(groups + [""] * (2 * MAX_OPTION_GROUPS - len(groups))),
            " | ".join("; ".join(part).rstrip("; ") for part in stock),
        )
    ]


class RowReader:
    """Reads one row; ``faults`` is empty where it can be taken."""

    def __init__(self, line: int, cells: dict[str, str], currency: str) -> None:
        self.line = line
        self.cells = cells
        self.faults: list[CellFault] = []
        self.currency = currency

    def row(self) -> ItemRow | None:
        self.currency = self.read_currency()
        draft = ItemDraft(
            name=self.field("name"),
            words=self.field("words"),
            kind=self.kind(),
            code=self.field("code"),
            weight_g=self.whole("weight_g", self.cell("weight_g"), MAX_WEIGHT_G) or 0,
            tax_category=self.field("tax_category") or "standard",
            currency=self.currency,
            prices=tuple(self.prices()),
            option_groups=tuple(self.option_groups()),
        )
        if fault := variants_fault(len(group.options) for group in draft.option_groups):
            self.refuse("options_1", fault)
        stock = self.stock(draft) if "stock" in self.cells else None
        return None if self.faults else ItemRow(self.line, draft, stock)

    def cell(self, column: str) -> str:
        return self.cells.get(column, "").strip()

    def field(self, column: str) -> str:
        """The cell as the field of the page's form takes it."""
        try:
            return str(_FIELDS[column].clean(self.cell(column)))
        except ValidationError as error:
            self.fault("cell_refused", column, trouble=" ".join(error.messages))
            return ""

    def kind(self) -> str:
        typed = self.cell("kind")
        kind = _KINDS.get(typed.casefold()) if typed else Item.Kind.GOODS.value
        if kind is None:
            self.fault("kind_unknown", "kind", kinds=tuple(Item.Kind.values))
        return kind or ""

    def read_currency(self) -> str:
        typed = self.cell("currency").upper() or self.currency
        if known_currency(typed):
            return typed
        self.fault("cell_currency_unknown", "currency")
        return self.currency

    def prices(self) -> Iterator[PriceDraft]:
        parts = parted(self.cell("prices") or self.cell("price"))
        if len(parts) > MAX_PRICES:
            self.fault("too_many_prices", "prices", most=MAX_PRICES)
        labels: set[str] = set()
        for amount, *rest in parts:
            label = clean_line(rest[0]) if rest else ""
            if len(label) > 60 or len(rest) > 1:
                self.fault("price_malformed", "prices")
            if label.casefold() in labels:
                self.fault("price_labels_alike", "prices")
            labels.add(label.casefold())
            money = self.money("prices", amount)
            if money and money.minor < 0:
                self.fault("price_below_zero", "prices")
            yield PriceDraft(label, money)

    def option_groups(self) -> Iterator[OptionGroupDraft]:
        names: set[str] = set()
        for number in range(1, MAX_OPTION_GROUPS + 1):
            column = f"options_{number}"
            name, parts = clean_line(self.cell(f"choice_{number}")), parted(self.cell(column))
            if not name and not parts:
                continue
            if not name or len(name) > MAX_OPTION_NAME:
                self.fault("choice_name_malformed", f"choice_{number}", most=MAX_OPTION_NAME)
            if name.casefold() in names:
                self.fault("choice_names_alike", f"choice_{number}")
            names.add(name.casefold())
            if not 1 <= len(parts) <= MAX_OPTIONS:
                self.fault("options_out_of_range", column, most=MAX_OPTIONS)
            options = tuple(self.option(column, part) for part in parts)
            if len({option.name.casefold() for option in options}) < len(options):
                self.fault("option_names_alike", column)
            yield OptionGroupDraft(name, options)

    def option(self, column: str, part: Sequence[str]) -> OptionDraft:
        name, add, grams, code = [*part, "", "", ""][:4]
        name = clean_line(name)
        if not name or len(name) > MAX_OPTION_NAME or len(code) > 20 or len(part) > 4:
            self.fault("option_malformed", column)
        weight_g = self.whole(column, grams, MAX_WEIGHT_G) or 0
        return OptionDraft(name, self.money(column, add or "0"), weight_g, code)

    def stock(self, draft: ItemDraft) -> tuple[StockEntry, ...]:
        cell = self.cell("stock")
        if not draft.option_groups and cell.lstrip("-").isdecimal():
            return (StockEntry((), "", self.whole("stock", cell, _MAX_COUNT, signed=True), None, False),)
        entries = []
        for part in split(cell, "|"):
            texts = split(part, ";")
            if not any(text.strip() for text in texts):
                continue
            variant, code, count, tell_at, beyond = [*texts, "", "", "", ""][:5]
            options = tuple(plain(name) for name in split(variant, "+") if name.strip())
            known = [{option.name for option in group.options} for group in draft.option_groups]
            if len(options) != len(known) or any(
                name not in names for name, names in zip(options, known, strict=False)
            ):
                self.fault("variant_unknown", "stock", text=variant.strip()[:60])
            if len(plain(code)) > 40:
                self.fault("variant_code_too_long", "stock", most=40)
            entries.append(
                StockEntry(
                    options,
                    plain(code),
                    self.whole("stock", plain(count), _MAX_COUNT, signed=True),
                    self.whole("stock", plain(tell_at), _MAX_COUNT),
                    plain(beyond).casefold() in _YES,
                )
            )
        if len({entry.options for entry in entries}) < len(entries):
            self.fault("variants_alike", "stock")
        return tuple(entries)

    def whole(self, column: str, typed: str, most: int, *, signed: bool = False) -> int | None:
        text = typed.strip()
        if not text:
            return None
        digits = text[1:] if signed and text.startswith("-") else text
        if not (digits.isascii() and digits.isdigit()) or len(digits) > 9 or int(digits) > most:
            self.fault("not_a_whole_number", column, text=text[:20], most=most)
            return None
        return int(text)

    def money(self, column: str, typed: str) -> Money:
        try:
            return parse_signed_amount(typed, self.currency)
        except CoreError as refused:
            for fault in refused.faults:
                self.refuse(column, fault)
            return Money(0, self.currency)

    def fault(self, code: str, column: str, **fields: Any) -> None:
        self.refuse(column, Fault(code, column, **fields))

    def refuse(self, column: str, fault: Fault) -> None:
        self.faults.append(CellFault(self.line, column, self.cell(column)[:80], fault))
