"""Reading the catalogue."""

from __future__ import annotations

from django.db.models import Count, Prefetch, Q, QuerySet, Sum

from cravik.catalogue.models import Choice, Item
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


def item_of(business: Business, item_id: int) -> Item | None:
    """One item of the business with its prices, groups and options, or None."""
    return Item.objects.of(business).prefetch_related(*_PARTS).filter(id=item_id).first()
