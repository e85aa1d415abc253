"""Reading the catalogue."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass
from functools import reduce
from operator import or_

from django.db.models import Count, Exists, OuterRef, Prefetch, Q, QuerySet, Sum
from django.template.defaultfilters import filesizeformat

from cravik.catalogue.models import AccessCode, Item, Option, OptionGroup, Picture
from cravik.catalogue.stock import stock_left
from cravik.core.english import counted
from cravik.people.models import Business

#: So many names are looked up in one query.
_NAMES_AT_ONCE = 200
_PARTS = ("prices", "pictures", Prefetch("option_groups", queryset=OptionGroup.objects.prefetch_related("options")))


def items_of(business: Business, search: str = "", kind: str = "", *, archived: bool = False) -> QuerySet[Item]:
    """The business's items by name, with their prices, how many variants and how much stock each has."""
    items = (
        Item.objects.of(business)
        .filter(archived=archived)
        .prefetch_related("prices", "pictures")
        .order_by("name", "id")
    )
    if kind in Item.Kind.values:
        items = items.filter(kind=kind)
    for word in search.split()[:8]:
        items = items.filter(Q(name__icontains=word) | Q(code__icontains=word) | Q(words__icontains=word))
    return items.annotate(ways=Count("variants"), stock=Sum("variants__count"))


def whole_items_of(business: Business) -> QuerySet[Item]:
    """Every item, archived ones too, with all that hangs on it but pictures."""
    return Item.objects.of(business).prefetch_related(*_PARTS, "variants").order_by("name", "id")


def item_of(business: Business, item_id: int) -> Item | None:
    """One item of the business with its prices, groups and options, or None."""
    return Item.objects.of(business).prefetch_related(*_PARTS).filter(id=item_id).first()


def item_called(business: Business, name: str) -> Item | None:
    """The item in the list with that name, whatever its capitals, or that code as it is written; the oldest, where
    several have the name."""
    return items_called(business, [name]).get(name)


def items_called(business: Business, names: Collection[str]) -> dict[str, Item]:
    """The same for several names at once."""
    wanted = list(dict.fromkeys(names))
    found: dict[str, Item] = {}
    for begin in range(0, len(wanted), _NAMES_AT_ONCE):
        some = wanted[begin : begin + _NAMES_AT_ONCE]
        any_of = reduce(or_, (Q(name__iexact=name) | Q(code=name) for name in some))
        items = Item.objects.of(business).filter(any_of, archived=False).prefetch_related(*_PARTS).order_by("id")
        for item in items:
            for name in some:
                if name == item.code or name.casefold() == item.name.casefold():
                    found.setdefault(name, item)
    return found


def names_like(business: Business, typed: str, most: int) -> list[str]:
    """The names of items in the list that hold what was typed, by name."""
    return list(items_of(business, typed).values_list("name", flat=True).distinct()[:most])


@dataclass(frozen=True)
class ShownPicture:
    """A picture as a page shows it. ``shows`` are the options whose own it is: number of the group, and name."""

    address: str
    sources: str
    words: str
    width: int
    height: int
    shows: tuple[tuple[int, str], ...] = ()

    @property
    def shows_json(self) -> str:
        return json.dumps(self.shows)


@dataclass(frozen=True)
class ShownItem:
    """What of an item changes without the links that sell it: its words, its pictures, what buyers are handed over, in
    words, and which of it is not left. ``sold_out`` names variants by their options, in the order of the groups;
    ``is_gone`` says that there is nothing left at all, ``few`` of which variants only a few are, with how many."""

    words: str = ""
    pictures: tuple[ShownPicture, ...] = ()
    digital_goods: str = ""
    sold_out: tuple[tuple[str, ...], ...] = ()
    is_gone: bool = False
    few: tuple[tuple[tuple[str, ...], int], ...] = ()


def shown_items(item_ids: Collection[int]) -> dict[int, ShownItem]:
    """Each of the items as pages show it, in a handful of queries however many they are."""
    if not item_ids:
        return {}
    codes = AccessCode.objects.filter(item_id=OuterRef("id"))
    shown = Q(files__archived=False)
    rows = (
        Item.objects.filter(id__in=item_ids)
        .annotate(
            how_many=Count("files", filter=shown),
            bytes=Sum("files__size", filter=shown),
            has_codes=Exists(codes),
            has_free_codes=Exists(codes.filter(state=AccessCode.State.FREE)),
        )
        .values_list("id", "words", "how_many", "bytes", "has_codes", "has_free_codes")
    )
    pictures = _pictures_of(item_ids)
    stock = stock_left(item_ids)
    return {
        pk: ShownItem(
            words,
            tuple(pictures[pk]),
            _digital_goods(how_many, size, has_codes),
            stock[pk].sold_out,
            stock[pk].is_gone or (has_codes and not has_free_codes),
            stock[pk].few,
        )
        for pk, words, how_many, size, has_codes, has_free_codes in rows
    }


def thumbnails(item_ids: Collection[int]) -> dict[int, str]:
    """The address of the smallest file of each item's first picture; items without one are absent."""
    if not item_ids:
        return {}
    found: dict[int, str] = {}
    for picture in Picture.objects.filter(item_id__in=item_ids):
        found.setdefault(picture.item_id, picture.small)
    return found


def _pictures_of(item_ids: Collection[int]) -> defaultdict[int, list[ShownPicture]]:
    """The pictures of each item, in their order."""
    found = list(Picture.objects.filter(item_id__in=item_ids))
    options = Option.objects.filter(picture__in=found).select_related("group") if len(found) > 1 else []
    shows: defaultdict[int | None, list[tuple[int, str]]] = defaultdict(list)
    for option in options:
        names = [option.name, *(name for _, name in option.known_as)]
        shows[option.picture_id] += [(option.group.position + 1, name) for name in names]
    pictures: defaultdict[int, list[ShownPicture]] = defaultdict(list)
    for each in found:
        shown = ShownPicture(each.largest, each.sources, each.words, each.width, each.height, tuple(shows[each.pk]))
        pictures[each.item_id].append(shown)
    return pictures


def _digital_goods(count: int, size: int | None, gives_codes: bool) -> str:
    """Such as “2 files to download (12 MB) and an access code”."""
    parts = [f"{counted(count, 'file', 'files')} to download ({filesizeformat(size or 0)})"] if count else []
    return " and ".join(parts + (["an access code"] if gives_codes else []))
