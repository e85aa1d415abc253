"""Bringing a table into the catalogue: first what would happen, then all of it in one transaction."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from itertools import product
from typing import Any

from django.db import transaction
from django.db.models import Count, F, Max, Sum

from cravik.catalogue.drafts import PLAIN, ItemDraft, OptionDraft, OptionGroupDraft, PriceDraft
from cravik.catalogue.happened import ItemChanged, ItemMade, about
from cravik.catalogue.models import Item, ItemPrice, Option, OptionGroup, TableUpload, Variant, variant_key
from cravik.catalogue.queries import whole_items_of
from cravik.catalogue.refusals import IMPORTED_TABLES
from cravik.catalogue.services import tell_followers, write_parts
from cravik.catalogue.table import CellFault, ItemRow, RowReader, StockEntry
from cravik.core.errors import Fault
from cravik.events.writing import write_all
from cravik.people.actors import CLOCK, Actor, member
from cravik.people.models import Business
from cravik.ui.spreadsheets import Table, TableRefused

_TRIES = 3
_TOLD_EVERY = 100
#: So many faults and names are shown; the rest is counted.
MOST_LISTED = 100


@dataclass(frozen=True)
class Plan:
    """What bringing the table in would do. ``seen`` is the state of the catalogue that it was made for."""

    new: list[ItemRow]
    changed: list[tuple[Item, ItemRow]]
    unchanged: int
    faults: list[CellFault]
    seen: tuple[Any, ...]

    @property
    def faulty_rows(self) -> int:
        return len({fault.line for fault in self.faults})

    @property
    def count(self) -> int:
        return len(self.new) + len(self.changed)


class FaultsLeft(Exception):
    """All or nothing was asked for, and some rows are faulty."""


class ImportRefused(TableRefused):
    """The table is not one of the catalogue's, or cannot be taken now."""

    words = IMPORTED_TABLES


class NoLongerWanted(Exception):
    """The table was written meanwhile, or forgotten."""


#: Is told how many rows are done.
Tell = Callable[[int], None]


@transaction.atomic
def keep_table(business: Business, name: str, table: Table, now: datetime) -> TableUpload:
    """Keep what was read until it is checked and the seller has decided; an earlier one that waits is forgotten.

    Raises ``ImportRefused`` while the one before is being written.
    """
    earlier = TableUpload.objects.filter(business=business)
    if earlier.filter(state=TableUpload.State.WRITING).exists():
        raise ImportRefused.of("import_under_way")
    earlier.delete()
    rows = [[line, cells] for line, cells in table.rows]
    return TableUpload.objects.create(business=business, name=name, head=table.head, rows=rows, made_at=now)


def _quietly(done: int) -> None:
    pass


def plan_for(upload: TableUpload, tell: Tell = _quietly) -> Plan:
    """Every row held against its columns, the others and the catalogue. Nothing is written."""
    business = upload.business
    seen = _state(business)
    rows, faults = _read(upload, business.currency, tell)
    items = list(whole_items_of(business))
    by_code = {item.code: item for item in items if item.code}
    uncoded = [item for item in items if not item.code]
    names = Counter(item.name.casefold() for item in uncoded)
    by_name = {item.name.casefold(): item for item in uncoded if names[item.name.casefold()] == 1}
    taken = _variant_codes(items)
    new, changed, unchanged = [], [], 0
    met: dict[object, int] = {}
    for row in rows:
        item = by_code.get(row.draft.code) if row.draft.code else None
        item = item or by_name.get(row.draft.name.casefold())
        who: object = item.pk if item else (row.draft.code or row.draft.name.casefold())
        if who in met:
            faults.append(CellFault(row.line, "code", row.draft.code, Fault("same_item_twice", line=met[who])))
            continue
        met[who] = row.line
        if clash := _code_clash(row, item, taken):
            faults.append(clash)
        elif item is None:
            new.append(row)
        else:
            merged = replace(row, draft=_with_ids(row.draft, item))
            if merged.draft == draft_of(item) and not _stock_differs(item, row.stock):
                unchanged += 1
            else:
                changed.append((item, merged))
    return Plan(new, changed, unchanged, sorted(faults, key=lambda fault: fault.line), seen)


def import_table(upload: TableUpload, now: datetime, *, good_rows_only: bool, tell: Tell = _quietly) -> Plan:
    """Write the rows, all in one transaction, which also notes that it is done; returns what was done.

    ``good_rows_only`` leaves faulty rows out. What was planned is written only if the
    catalogue is still as it was when it was planned; else it is planned again. Raises ``NoLongerWanted``, and
    ``FaultsLeft`` where a row is faulty.
    """
    for _ in range(_TRIES):
        plan = plan_for(upload, tell)
        if plan.faults and not good_rows_only:
            raise FaultsLeft
        with transaction.atomic():
            if _state(upload.business) != plan.seen:
                continue
            if (
                not TableUpload.objects.select_for_update()
                .filter(id=upload.pk, state=TableUpload.State.WRITING)
                .exists()
            ):
                raise NoLongerWanted
            by = member(upload.confirmed_by) if upload.confirmed_by else CLOCK
            _write(upload.business, plan, now, by)
            upload.state, upload.rows, upload.summary = TableUpload.State.DONE, [], summary_of(plan)
            upload.save(update_fields=["state", "rows", "summary"])
            return plan
    raise FaultsLeft


def summary_of(plan: Plan) -> dict[str, Any]:
    """What a page says of the plan, as it is kept."""
    return {
        "new": len(plan.new),
        "changed": len(plan.changed),
        "unchanged": plan.unchanged,
        "faulty_rows": plan.faulty_rows,
        "faults": [_as_shown(fault) for fault in plan.faults[:MOST_LISTED]],
        "more_faults": max(0, len(plan.faults) - MOST_LISTED),
        "new_names": [row.draft.name for row in plan.new[:MOST_LISTED]],
        "changed_names": [row.draft.name for _, row in plan.changed[:MOST_LISTED]],
    }


def _as_shown(fault: CellFault) -> dict[str, Any]:
    return {"line": fault.line, "column": fault.column, "cell": fault.cell, "message": fault.message}


def draft_of(item: Item) -> ItemDraft:
    """The item as it is, as a draft."""
    return ItemDraft(
        **{name: getattr(item, name) for name in PLAIN},
        prices=tuple(PriceDraft(price.label, price.amount) for price in item.prices.all()),
        option_groups=tuple(
            OptionGroupDraft(
                group.name,
                tuple(
                    OptionDraft(each.name, each.add, each.weight_g, each.code, each.pk, each.picture_id)
                    for each in group.options.all()
                ),
            )
            for group in item.option_groups.all()
        ),
    )


def _state(business: Business) -> tuple[Any, ...]:
    """Changes whenever an item of the business, or the stock of one, does."""
    items = Item.objects.of(business).aggregate(Count("id"), Sum("revision"), Max("id"))
    stock = Variant.objects.filter(business=business).aggregate(
        Count("id"), Sum("count"), Sum("tell_at"), weighed=Sum(F("count") * F("id"))
    )
    return (*items.values(), *stock.values())


def _read(upload: TableUpload, currency: str, tell: Tell) -> tuple[list[ItemRow], list[CellFault]]:
    rows, faults = [], []
    head = list(upload.head)
    for number, (line, cells) in enumerate(upload.rows):
        if number % _TOLD_EVERY == 0:
            tell(number)
        if len(cells) > len(head) and any(cell.strip() for cell in cells[len(head) :]):
            faults.append(CellFault(line, "", cells[len(head)][:80], Fault("too_many_cells")))
            continue
        reader = RowReader(line, dict(zip(head, cells, strict=False)), currency)
        if row := reader.row():
            rows.append(row)
        faults += reader.faults
    return rows, faults


def _variant_codes(items: Sequence[Item]) -> dict[str, int]:
    """Each code of a variant, and the item that has it."""
    return {each.code: item.pk for item in items for each in item.variants.all() if each.code}


def _code_clash(row: ItemRow, item: Item | None, taken: dict[str, int]) -> CellFault | None:
    own = item.pk if item else -row.line
    for entry in row.stock or ():
        if entry.code and taken.setdefault(entry.code, own) != own:
            return CellFault(row.line, "stock", entry.code, Fault("variant_code_of_another", code=entry.code))
    codes = [entry.code for entry in row.stock or () if entry.code]
    if len(set(codes)) < len(codes):
        return CellFault(row.line, "stock", "", Fault("variant_codes_alike"))
    return None


def _with_ids(draft: ItemDraft, item: Item) -> ItemDraft:
    """The draft with the ids and pictures of the options that it names as the item does."""
    there = {(group.name, option.name): option for group in item.option_groups.all() for option in group.options.all()}
    option_groups = []
    for group in draft.option_groups:
        options = []
        for option in group.options:
            known = there.get((group.name, option.name))
            ids = (known.pk, known.picture_id) if known else (None, None)
            options.append(replace(option, option_id=ids[0], picture_id=ids[1]))
        option_groups.append(replace(group, options=tuple(options)))
    return replace(draft, option_groups=tuple(option_groups))


def _stock_differs(item: Item, stock: tuple[StockEntry, ...] | None) -> bool:
    if stock is None:
        return False
    named = _names_of_variants(item)
    for entry in stock:
        variant = named.get(entry.options)
        if variant is None or _stock_of(variant) != (
            entry.code,
            entry.count,
            entry.tell_at,
            entry.sells_beyond,
        ):
            return True
    stated = {entry.options for entry in stock}
    return any(_stock_of(each) != ("", None, None, False) for names, each in named.items() if names not in stated)


def _stock_of(of: Variant | StockEntry) -> tuple[str, int | None, int | None, bool]:
    return of.code, of.count, of.tell_at, of.sells_beyond


def _names_of_variants(item: Item) -> dict[tuple[str, ...], Variant]:
    option_groups = list(item.option_groups.all())
    names = {
        option.pk: (place, option.name) for place, group in enumerate(option_groups) for option in group.options.all()
    }
    return {
        tuple(name for _, name in sorted(names[each] for each in variant.option_ids)): variant
        for variant in item.variants.all()
    }


def _write(business: Business, plan: Plan, now: datetime, by: Actor) -> None:
    made = _write_new(business, [row.draft for row in plan.new], now)
    write_all((ItemMade(item.name), about(item), now, by) for item in made)
    _write_changed(plan.changed, now, by)
    stocked = [(item.pk, row.stock) for item, row in zip(made, plan.new, strict=True) if row.stock]
    stocked += [(item.pk, row.stock) for item, row in plan.changed if row.stock is not None]
    _write_stock(business, dict(stocked))


def _write_new(business: Business, drafts: Sequence[ItemDraft], now: datetime) -> list[Item]:
    items = Item.objects.bulk_create(
        Item(business=business, made_at=now, changed_at=now, **draft.plain()) for draft in drafts
    )
    pairs = list(zip(items, drafts, strict=True))
    _write_prices(pairs)
    option_groups = OptionGroup.objects.bulk_create(
        OptionGroup(item=item, name=group.name, position=place)
        for item, draft in pairs
        for place, group in enumerate(draft.option_groups)
    )
    wanted = [group for draft in drafts for group in draft.option_groups]
    options = Option.objects.bulk_create(
        Option(
            group=group,
            name=each.name,
            add_minor=each.add.minor,
            weight_g=each.weight_g,
            code=each.code,
            position=position,
        )
        for group, draft in zip(option_groups, wanted, strict=True)
        for position, each in enumerate(draft.options)
    )
    groups: dict[int, dict[int, list[int]]] = {}
    for option in options:
        groups.setdefault(option.group.item_id, {}).setdefault(option.group_id, []).append(option.pk)
    Variant.objects.bulk_create(
        Variant(business=business, item=item, key=variant_key(ids))
        for item in items
        for ids in product(*groups.get(item.pk, {}).values())
    )
    return items


def _write_prices(pairs: Sequence[tuple[Item, ItemDraft]]) -> None:
    ItemPrice.objects.bulk_create(
        ItemPrice(item=item, label=price.label, amount_minor=price.amount.minor, position=position)
        for item, draft in pairs
        for position, price in enumerate(draft.prices)
    )


def _write_changed(changed: Sequence[tuple[Item, ItemRow]], now: datetime, by: Actor) -> None:
    """Only what differs is written, for a table often changes one column of everything."""
    by_field: dict[str, list[Item]] = {}
    new_prices: list[tuple[Item, ItemDraft]] = []
    new_options: list[tuple[Item, ItemDraft]] = []
    renamed: list[Item] = []
    for item, row in changed:
        before, draft = draft_of(item), row.draft
        for name in PLAIN:
            if getattr(before, name) != getattr(draft, name):
                setattr(item, name, getattr(draft, name))
                by_field.setdefault(name, []).append(item)
        if draft.option_groups != before.option_groups:
            new_options.append((item, draft))
        elif draft.prices != before.prices:
            new_prices.append((item, draft))
        if (draft.name, draft.words) != (before.name, before.words):
            renamed.append(item)
    for name, items in by_field.items():
        Item.objects.bulk_update(items, [name], batch_size=500)
    Item.objects.filter(id__in=[item.pk for item, _ in changed]).update(revision=F("revision") + 1, changed_at=now)
    ItemPrice.objects.filter(item__in=[item.pk for item, _ in new_prices]).delete()
    _write_prices(new_prices)
    for item, draft in new_options:
        write_parts(item, draft)
    write_all((ItemChanged(), about(item), now, by) for item, _ in changed)
    tell_followers(renamed, now, by)


def _write_stock(business: Business, stock: dict[int, tuple[StockEntry, ...] | None]) -> None:
    """What the table says of stock; a variant that it does not name is counted no more."""
    items = whole_items_of(business).filter(id__in=list(stock))
    changed = []
    for item in items:
        stated = {entry.options: entry for entry in stock[item.pk] or ()}
        for names, variant in _names_of_variants(item).items():
            entry = stated.get(names, StockEntry(names, "", None, None, False))
            if _stock_of(variant) != _stock_of(entry):
                variant.code, variant.count = entry.code, entry.count
                variant.tell_at, variant.sells_beyond = entry.tell_at, entry.sells_beyond
                changed.append(variant)
    Variant.objects.filter(id__in=[each.pk for each in changed]).update(code="")
    Variant.objects.bulk_update(changed, ["code", "count", "tell_at", "sells_beyond"])
