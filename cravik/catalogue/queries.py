"""Reading the catalogue."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from django.db.models import Count, Exists, OuterRef, Prefetch, Q, QuerySet, Sum
from django.template.defaultfilters import filesizeformat

from cravik.catalogue.models import AccessCode, Item, OptionGroup, Picture
from cravik.catalogue.stock import stock_left
from cravik.core.english import counted
from cravik.setup.models import Business

_PARTS = ("prices", "pictures", Prefetch("option_groups", queryset=OptionGroup.objects.prefetch_related("options")))


def items_of(business: Business, search: str = "", kind: str = "", *, put_away: bool = False) -> QuerySet[Item]:
    """The business's items by name, with their prices, how many variants and how much stock each has."""
    items = (
        Item.objects.of(business)
        .filter(put_away=put_away)
        .prefetch_related("prices", "pictures")
        .order_by("name", "id")
    )
    if kind in Item.Kind.values:
        items = items.filter(kind=kind)
    for word in search.split()[:8]:
        items = items.filter(Q(name__icontains=word) | Q(code__icontains=word) | Q(words__icontains=word))
    return items.annotate(ways=Count("variants"), stock=Sum("variants__count"))


def whole_items_of(business: Business) -> QuerySet[Item]:
    """Every item, those put away too, with all that hangs on it but pictures."""
    return Item.objects.of(business).prefetch_related(*_PARTS, "variants").order_by("name", "id")


def item_of(business: Business, item_id: int) -> Item | None:
    """One item of the business with its prices, groups and options, or None."""
    return Item.objects.of(business).prefetch_related(*_PARTS).filter(id=item_id).first()


@dataclass(frozen=True)
class ShownPicture:
    """A picture as a page shows it."""

    address: str
    sources: str
    words: str
    width: int
    height: int


@dataclass(frozen=True)
class ShownItem:
    """What of an item changes without the links that sell it: its words, its picture, what buyers are handed over, in
    words, and which of it is not left. ``sold_out`` names variants by their options, in the order of the groups;
    ``is_gone`` says that there is nothing left at all."""

    words: str = ""
    picture: ShownPicture | None = None
    digital_goods: str = ""
    sold_out: tuple[tuple[str, ...], ...] = ()
    is_gone: bool = False


def shown_items(item_ids: Collection[int]) -> dict[int, ShownItem]:
    """Each of the items as pages show it, in a handful of queries however many they are."""
    if not item_ids:
        return {}
    codes = AccessCode.objects.filter(item_id=OuterRef("id"))
    shown = Q(files__put_away=False)
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
    pictures: dict[int, Picture] = {}
    for picture in Picture.objects.filter(item_id__in=item_ids):
        pictures.setdefault(picture.item_id, picture)
    stock = stock_left(item_ids)
    return {
        pk: ShownItem(
            words,
            _shown(pictures[pk]) if pk in pictures else None,
            _digital_goods(how_many, size, has_codes),
            stock[pk].sold_out,
            stock[pk].is_gone or (has_codes and not has_free_codes),
        )
        for pk, words, how_many, size, has_codes, has_free_codes in rows
    }


def _shown(picture: Picture) -> ShownPicture:
    return ShownPicture(picture.largest, picture.sources, picture.words, picture.width, picture.height)


def _digital_goods(count: int, size: int | None, gives_codes: bool) -> str:
    """Such as “2 files to download (12 MB) and an access code”."""
    parts = [f"{counted(count, 'file', 'files')} to download ({filesizeformat(size or 0)})"] if count else []
    return " and ".join(parts + (["an access code"] if gives_codes else []))
