"""Stock of an item's variants: what there is, when the seller is told, and codes."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from anyascii import anyascii
from django.db import transaction
from django.db.models import Case, F, Q, When

from cravik.catalogue.happened import ItemChanged, StockCounted, about, record
from cravik.catalogue.models import Item, Option, Variant, variant_key
from cravik.catalogue.refusals import STOCK
from cravik.core.errors import Fault
from cravik.core.text.refusal import Refusal
from cravik.events.writing import write_all
from cravik.people.actors import Actor

_MAX_CODE_LENGTH = 40
_CAN_BE_SOLD = Q(count__isnull=True) | Q(count__gt=0) | Q(sells_beyond=True)


@dataclass(frozen=True)
class StockRow:
    """A variant with its options' names, and the code that is proposed for it."""

    variant: Variant
    name: str
    proposed_code: str


@dataclass(frozen=True, slots=True)
class StockDraft:
    """What a seller typed for a variant; ``seen_count`` is the count that the page showed."""

    variant_id: int
    code: str
    count: int | None
    seen_count: int | None
    tell_at: int | None
    sells_beyond: bool


class StockRefused(Refusal):
    """A row that cannot be taken, by the variant's id. Its fault stands at the field."""

    words = STOCK

    def __init__(self, variant_id: int, fault: Fault) -> None:
        super().__init__(fault)
        self.variant_id = variant_id
        self.field = fault.at


class SoldOut(Exception):
    """Nothing is left, and the seller does not sell beyond it."""


#: So few pieces of a variant are told to buyers.
FEW_LEFT = 5


@dataclass(frozen=True)
class StockLeft:
    """Which variants of an item are not left, each as the names of its options in the order of their groups, whether
    none at all is, and of which only a ``few`` are left, with how many."""

    sold_out: tuple[tuple[str, ...], ...] = ()
    is_gone: bool = False
    few: tuple[tuple[tuple[str, ...], int], ...] = ()


def stock_left(item_ids: Collection[int]) -> dict[int, StockLeft]:
    """What is left of each item."""
    gone: dict[int, list[Variant]] = {pk: [] for pk in item_ids}
    few: dict[int, list[Variant]] = {pk: [] for pk in item_ids}
    there: set[int] = set()
    rows = Variant.objects.filter(item_id__in=item_ids).annotate(
        can_be_sold=Case(When(_CAN_BE_SOLD, then=True), default=False)
    )
    for variant in rows:
        if not variant.can_be_sold:
            gone[variant.item_id].append(variant)
            continue
        there.add(variant.item_id)
        if variant.count is not None and variant.count <= FEW_LEFT and not variant.sells_beyond:
            few[variant.item_id].append(variant)
    scarce = [pk for pk in gone if any(each.key for each in gone[pk] + few[pk])]
    names = _names_of_options(scarce)

    def named(variant: Variant) -> tuple[str, ...]:
        return tuple(name for option, name in names.get(variant.item_id, ()) if option in variant.option_ids)

    return {
        pk: StockLeft(
            tuple(named(each) for each in gone[pk] if each.key),
            pk not in there,
            tuple((named(each), each.count or 0) for each in few[pk]),
        )
        for pk in gone
    }


def _names_of_options(item_ids: Sequence[int]) -> dict[int, list[tuple[int, str]]]:
    """The options of each item by id, in the order of their groups."""
    names: dict[int, list[tuple[int, str]]] = {}
    if not item_ids:
        return names
    options = Option.objects.filter(group__item_id__in=item_ids).order_by("group__position")
    for item_id, pk, name in options.values_list("group__item_id", "id", "name"):
        names.setdefault(item_id, []).append((pk, name))
    return names


def former_names(item: Item) -> dict[tuple[str, str], tuple[str, str]]:
    """The present names of group and option, by every pair that they had or have."""
    every = list(Option.objects.select_related("group").filter(group__item=item))
    former = {(group, name): (option.group.name, option.name) for option in every for group, name in option.known_as}
    return former | {(option.group.name, option.name): (option.group.name, option.name) for option in every}


def reserve_stock(item_id: int, options: Mapping[str, str], quantity: int) -> Variant | None:
    """Take so many out of stock of the variant that ``options`` name by their groups, in the transaction under way.

    None where nothing is counted, or the item has no such variant any more. Raises ``SoldOut``. The taking is one
    conditional statement: of two buyers at once, only one gets the last.
    """
    every = Option.objects.select_related("group").filter(group__item_id=item_id) if options else ()
    present = {(option.group.name, option.name): option.pk for option in every}
    former = {(group, name): option.pk for option in every for group, name in option.known_as}
    ids = [pk for pk in map((former | present).get, options.items()) if pk]
    if len(ids) != len(options):
        return None
    counted = Variant.objects.filter(item_id=item_id, key=variant_key(ids), count__isnull=False)
    variant = counted.first()
    if variant is None:
        return None
    take_from_stock(variant.pk, quantity)
    return variant


def take_from_stock(variant_id: int, quantity: int) -> None:
    """Take so many of a variant that is counted; nothing of any other. Raises ``SoldOut``."""
    counted = Variant.objects.filter(id=variant_id, count__isnull=False)
    enough = Q(sells_beyond=True) | Q(count__gte=quantity)
    if not counted.filter(enough).update(count=F("count") - quantity) and counted.exists():
        raise SoldOut


def release_stock(variant_id: int, quantity: int) -> None:
    """Put back what was taken for nothing."""
    Variant.objects.filter(id=variant_id, count__isnull=False).update(count=F("count") + quantity)


def newly_low(variant_id: int) -> Variant | None:
    """The variant, if it has come down to the level at which the seller is told, and was not told before."""
    low = Variant.objects.filter(id=variant_id, told=False, count__lte=F("tell_at"))
    return Variant.objects.select_related("item").get(id=variant_id) if low.update(told=True) else None


def stock_rows(item: Item) -> list[StockRow]:
    """Every variant in the order of the groups and their options."""
    option_groups = list(item.option_groups.all())
    options = {option.pk: option for group in option_groups for option in group.options.all()}
    places = {option.pk: (group.position, option.position) for group in option_groups for option in group.options.all()}
    rows = []
    for variant in item.variants.all():
        picked = sorted((options[each] for each in variant.option_ids), key=lambda option: places[option.pk])
        name = " · ".join(option.name for option in picked) or item.name
        rows.append((tuple(places[option.pk] for option in picked), StockRow(variant, name, proposed(item, picked))))
    return [row for _, row in sorted(rows, key=lambda row: row[0])]


def proposed(item: Item, options: Sequence[Option]) -> str:
    """A code made of the item's and its options' codes, or of the first letters of their names."""
    parts = [item.code or _short(item.name, 8), *(option.code or _short(option.name, 4) for option in options)]
    return "-".join(filter(None, parts))[:_MAX_CODE_LENGTH]


def _short(name: str, longest: int) -> str:
    return re.sub(r"[^A-Z0-9]", "", anyascii(name).upper())[:longest]


@transaction.atomic
def change_stock(item: Item, drafts: Sequence[StockDraft], now: datetime, *, by: Actor) -> None:
    """Write what was typed, all of it or nothing. Raises ``StockRefused`` for the first row that cannot be.

    A count that changed since the page showed it, by a sale or in another tab, is not overwritten.
    """
    there = {variant.pk: variant for variant in item.variants.all()}
    counted: list[StockCounted] = []
    for draft in drafts:
        variant = there.get(draft.variant_id)
        if variant is None:
            raise StockRefused(draft.variant_id, Fault("variant_gone", "count"))
        if draft.count != draft.seen_count:
            if variant.count != draft.seen_count:
                raise StockRefused(variant.pk, Fault("stock_changed", "count", count=variant.count))
            counted.append(StockCounted(variant.pk, draft.code, variant.count, draft.count))
            variant.count = draft.count
        variant.tell_at, variant.sells_beyond = draft.tell_at, draft.sells_beyond
        variant.code = draft.code
        if variant.count is None or draft.tell_at is None or variant.count > draft.tell_at:
            variant.told = False
    codes = [draft.code for draft in drafts if draft.code]
    _check_codes(item, drafts, codes)
    # Out of the way first, so that two rows can swap their codes.
    ids = [draft.variant_id for draft in drafts]
    Variant.objects.filter(id__in=ids).update(code="")
    Variant.objects.bulk_update([there[each] for each in ids], ["code", "count", "tell_at", "told", "sells_beyond"])
    write_all((each, about(item), now, by) for each in counted)


def _check_codes(item: Item, drafts: Sequence[StockDraft], codes: list[str]) -> None:
    others = Variant.objects.filter(business_id=item.business_id, code__in=codes)
    taken = dict(others.exclude(id__in=[draft.variant_id for draft in drafts]).values_list("code", "item__name"))
    for draft in drafts:
        if draft.code in taken:
            fault = Fault("variant_code_taken", "code", code=draft.code, item=taken[draft.code])
            raise StockRefused(draft.variant_id, fault)
        if draft.code and codes.count(draft.code) > 1:
            raise StockRefused(draft.variant_id, Fault("variant_code_twice", "code", code=draft.code))


@transaction.atomic
def take_proposed_codes(item: Item, now: datetime, *, by: Actor) -> int:
    """Give every variant without a code the one that is proposed, where it is free; returns how many."""
    rows = [row for row in stock_rows(item) if not row.variant.code and row.proposed_code]
    taken = set(Variant.objects.filter(business_id=item.business_id).exclude(code="").values_list("code", flat=True))
    given = []
    for row in rows:
        if row.proposed_code not in taken:
            taken.add(row.proposed_code)
            row.variant.code = row.proposed_code
            given.append(row.variant)
    Variant.objects.bulk_update(given, ["code"])
    if given:
        record(ItemChanged(), item, now, by)
    return len(given)


def full_name(variant: Variant) -> str:
    """The item's name with the variant's options, such as “Delta kite, 1.2 m, red”."""
    options = Option.objects.filter(id__in=variant.option_ids).order_by("group__position")
    return ", ".join([variant.item.name, *(option.name for option in options)])
