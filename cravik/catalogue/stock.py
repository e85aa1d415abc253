"""Stock of an item's combinations: what there is, when the seller is told, and codes."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from anyascii import anyascii
from django.db import transaction
from django.db.models import Case, F, Q, When

from cravik.catalogue.models import Combination, Item, Option, combination_key

_LONGEST_CODE = 40
_CAN_BE_SOLD = Q(count__isnull=True) | Q(count__gt=0) | Q(sells_beyond=True)


@dataclass(frozen=True)
class StockRow:
    """A combination with its options' names, and the code that is proposed for it."""

    combination: Combination
    name: str
    proposed_code: str


@dataclass(frozen=True, slots=True)
class StockDraft:
    """What a seller typed for a combination; ``seen_count`` is the count that the page showed."""

    combination_id: int
    code: str
    count: int | None
    seen_count: int | None
    tell_at: int | None
    sells_beyond: bool


class StockRefused(Exception):
    """A row that cannot be taken, by the combination's id; ``field`` is where the fault lies."""

    def __init__(self, combination_id: int, field: str, message: str) -> None:
        super().__init__(message)
        self.combination_id = combination_id
        self.field = field


class SoldOut(Exception):
    """Nothing is left, and the seller does not sell beyond it."""


@dataclass(frozen=True)
class StockLeft:
    """Which combinations of an item are not left, each as the names of its options in the order of their groups, and
    whether none at all is."""

    sold_out: tuple[tuple[str, ...], ...] = ()
    is_gone: bool = False


def stock_left(item_ids: Collection[int]) -> dict[int, StockLeft]:
    """What is left of each item."""
    gone: dict[int, list[Combination]] = {pk: [] for pk in item_ids}
    there: set[int] = set()
    rows = Combination.objects.filter(item_id__in=item_ids).annotate(
        can_be_sold=Case(When(_CAN_BE_SOLD, then=True), default=False)
    )
    for combination in rows:
        if combination.can_be_sold:
            there.add(combination.item_id)
        else:
            gone[combination.item_id].append(combination)
    names = _names_of_options([pk for pk, sold in gone.items() if any(each.key for each in sold)])
    return {
        pk: StockLeft(
            tuple(
                tuple(name for option, name in names.get(pk, ()) if option in each.option_ids)
                for each in sold
                if each.key
            ),
            pk not in there,
        )
        for pk, sold in gone.items()
    }


def _names_of_options(item_ids: Sequence[int]) -> dict[int, list[tuple[int, str]]]:
    """The options of each item by id, in the order of their groups."""
    names: dict[int, list[tuple[int, str]]] = {}
    if not item_ids:
        return names
    options = Option.objects.filter(choice__item_id__in=item_ids).order_by("choice__position")
    for item_id, pk, name in options.values_list("choice__item_id", "id", "name"):
        names.setdefault(item_id, []).append((pk, name))
    return names


def former_names(item: Item) -> dict[tuple[str, str], tuple[str, str]]:
    """The present names of group and option, by every pair that they had or have."""
    every = list(Option.objects.select_related("choice").filter(choice__item=item))
    former = {(group, name): (option.choice.name, option.name) for option in every for group, name in option.known_as}
    return former | {(option.choice.name, option.name): (option.choice.name, option.name) for option in every}


def take_stock(item_id: int, options: Mapping[str, str], quantity: int) -> Combination | None:
    """Take so many out of stock of the combination that ``options`` name by their groups, in the transaction under way.

    None where nothing is counted, or the item has no such combination any more. Raises ``SoldOut``. The taking is one
    conditional statement: of two buyers at once, only one gets the last.
    """
    every = Option.objects.select_related("choice").filter(choice__item_id=item_id) if options else ()
    present = {(option.choice.name, option.name): option.pk for option in every}
    former = {(choice, name): option.pk for option in every for choice, name in option.known_as}
    ids = [pk for pk in map((former | present).get, options.items()) if pk]
    if len(ids) != len(options):
        return None
    counted = Combination.objects.filter(item_id=item_id, key=combination_key(ids), count__isnull=False)
    combination = counted.first()
    if combination is None:
        return None
    enough = Q(sells_beyond=True) | Q(count__gte=quantity)
    if not Combination.objects.filter(enough, id=combination.pk).update(count=F("count") - quantity):
        raise SoldOut
    return combination


def give_stock_back(combination_id: int, quantity: int) -> None:
    """Put back what was taken for nothing."""
    Combination.objects.filter(id=combination_id, count__isnull=False).update(count=F("count") + quantity)


def newly_low(combination_id: int) -> Combination | None:
    """The combination, if it has come down to the level at which the seller is told, and was not told before."""
    low = Combination.objects.filter(id=combination_id, told=False, count__lte=F("tell_at"))
    return Combination.objects.select_related("item").get(id=combination_id) if low.update(told=True) else None


def stock_rows(item: Item) -> list[StockRow]:
    """Every combination in the order of the groups and their options."""
    choices = list(item.choices.all())
    options = {option.pk: option for choice in choices for option in choice.options.all()}
    places = {option.pk: (choice.position, option.position) for choice in choices for option in choice.options.all()}
    rows = []
    for combination in item.combinations.all():
        picked = sorted((options[each] for each in combination.option_ids), key=lambda option: places[option.pk])
        name = " · ".join(option.name for option in picked) or item.name
        rows.append(
            (tuple(places[option.pk] for option in picked), StockRow(combination, name, proposed(item, picked)))
        )
    return [row for _, row in sorted(rows, key=lambda row: row[0])]


def proposed(item: Item, options: Sequence[Option]) -> str:
    """A code made of the item's and its options' codes, or of the first letters of their names."""
    parts = [item.code or _short(item.name, 8), *(option.code or _short(option.name, 4) for option in options)]
    return "-".join(filter(None, parts))[:_LONGEST_CODE]


def _short(name: str, longest: int) -> str:
    return re.sub(r"[^A-Z0-9]", "", anyascii(name).upper())[:longest]


@transaction.atomic
def change_stock(item: Item, drafts: Sequence[StockDraft]) -> None:
    """Write what was typed, all of it or nothing. Raises ``StockRefused`` for the first row that cannot be.

    A count that changed since the page showed it, by a sale or in another tab, is not overwritten.
    """
    there = {combination.pk: combination for combination in item.combinations.all()}
    for draft in drafts:
        combination = there.get(draft.combination_id)
        if combination is None:
            raise StockRefused(draft.combination_id, "count", "This combination is no more. Load the page again.")
        if draft.count != draft.seen_count:
            if combination.count != draft.seen_count:
                now = "not counted" if combination.count is None else str(combination.count)
                raise StockRefused(
                    combination.pk, "count", f"It changed since you opened the page: it is {now} now. Type it again."
                )
            combination.count = draft.count
        combination.tell_at, combination.sells_beyond = draft.tell_at, draft.sells_beyond
        combination.code = draft.code
        if combination.count is None or draft.tell_at is None or combination.count > draft.tell_at:
            combination.told = False
    codes = [draft.code for draft in drafts if draft.code]
    _check_codes(item, drafts, codes)
    # Out of the way first, so that two rows can swap their codes.
    ids = [draft.combination_id for draft in drafts]
    Combination.objects.filter(id__in=ids).update(code="")
    Combination.objects.bulk_update([there[each] for each in ids], ["code", "count", "tell_at", "told", "sells_beyond"])


def _check_codes(item: Item, drafts: Sequence[StockDraft], codes: list[str]) -> None:
    others = Combination.objects.filter(business_id=item.business_id, code__in=codes)
    taken = dict(others.exclude(id__in=[draft.combination_id for draft in drafts]).values_list("code", "item__name"))
    for draft in drafts:
        if draft.code in taken:
            raise StockRefused(draft.combination_id, "code", f"“{draft.code}” is a code of “{taken[draft.code]}”.")
        if draft.code and codes.count(draft.code) > 1:
            raise StockRefused(draft.combination_id, "code", f"“{draft.code}” stands here twice.")


@transaction.atomic
def take_proposed_codes(item: Item) -> int:
    """Give every combination without a code the one that is proposed, where it is free; returns how many."""
    rows = [row for row in stock_rows(item) if not row.combination.code and row.proposed_code]
    taken = set(
        Combination.objects.filter(business_id=item.business_id).exclude(code="").values_list("code", flat=True)
    )
    given = []
    for row in rows:
        if row.proposed_code not in taken:
            taken.add(row.proposed_code)
            row.combination.code = row.proposed_code
            given.append(row.combination)
    Combination.objects.bulk_update(given, ["code"])
    return len(given)


def full_name(combination: Combination) -> str:
    """The item's name with the combination's options, such as “Delta kite, 1.2 m, red”."""
    options = Option.objects.filter(id__in=combination.option_ids).order_by("choice__position")
    return ", ".join([combination.item.name, *(option.name for option in options)])
