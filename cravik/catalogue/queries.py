"""Reading the catalogue."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Count, Exists, OuterRef, Prefetch, Q, QuerySet, Sum
from django.template.defaultfilters import filesizeformat

from cravik.catalogue.models import AccessCode, Choice, Item, Picture
from cravik.core.wording import counted
from cravik.setup.models import Business

_PARTS = ("prices", "pictures", Prefetch("choices", queryset=Choice.objects.prefetch_related("options")))


def items_of(business: Business, search: str = "", kind: str = "", *, put_away: bool = False) -> QuerySet[Item]:
    """The business's items by name, with their prices, how many combinations and how much stock each has."""
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
    return items.annotate(ways=Count("combinations"), stock=Sum("combinations__count"))


def whole_items_of(business: Business) -> QuerySet[Item]:
    """Every item, those put away too, with all that hangs on it but pictures."""
    return Item.objects.of(business).prefetch_related(*_PARTS, "combinations").order_by("name", "id")


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


def first_picture(item_id: int | None) -> ShownPicture | None:
    """The picture that stands for the item, if it has one."""
    picture = Picture.objects.filter(item_id=item_id).first() if item_id else None
    if picture is None:
        return None
    return ShownPicture(picture.largest, picture.sources, picture.words, picture.width, picture.height)


def goods_words(item_id: int | None) -> str:
    """What buyers of the item are handed over, such as “2 files to download (12 MB) and an access code”."""
    if item_id is None:
        return ""
    codes = Exists(AccessCode.objects.filter(item_id=OuterRef("id")))
    shown = Q(files__put_away=False)
    item = Item.objects.filter(id=item_id).annotate(
        how_many=Count("files", filter=shown), bytes=Sum("files__size", filter=shown), codes=codes
    )
    count, size, gives_codes = item.values_list("how_many", "bytes", "codes").get()
    parts = [f"{counted(count, 'file', 'files')} to download ({filesizeformat(size)})"] if count else []
    return " and ".join(parts + (["an access code"] if gives_codes else []))
