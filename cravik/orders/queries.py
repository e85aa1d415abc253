"""Reading orders."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime

from django.db.models import Max, Q, QuerySet, Sum

from cravik.core.money import Money
from cravik.orders.models import Order
from cravik.setup.models import Business


def orders_of(
    business: Business, search: str = "", link_id: int | None = None, rehearsals: bool = False
) -> QuerySet[Order]:
    """The business's orders, or its rehearsed ones, newest first.

    Every word of ``search`` stands in a name, an address, a title, or is the order's number.
    """
    orders = Order.objects.of(business).filter(rehearsal=rehearsals).order_by("-paid_at", "-id")
    if link_id is not None:
        orders = orders.filter(link_id=link_id)
    for word in search.split()[:8]:
        found = Q(buyer_name__icontains=word) | Q(buyer_email__icontains=word) | Q(title__icontains=word)
        if word.isascii() and word.isdigit() and len(word) < 10:
            found |= Q(number=int(word))
        orders = orders.filter(found)
    return orders


def money_by_link(business: Business, since: datetime, until: datetime) -> dict[int, list[Money]]:
    """What each link took in the period, one sum a currency; links that took nothing are absent."""
    rows = (
        Order.objects.of(business)
        .counted()
        .filter(paid_at__gte=since, paid_at__lt=until)
        .order_by("link_id", "currency")
        .values_list("link_id", "currency")
        .annotate(minor=Sum("total_minor"))
    )
    sums: defaultdict[int, list[Money]] = defaultdict(list)
    for link_id, currency, minor in rows:
        sums[link_id].append(Money(minor, currency))
    return dict(sums)


def last_paid_by_link(link_ids: list[int]) -> dict[int, datetime]:
    """When each of the links was last paid."""
    rows = (
        Order.objects.counted().filter(link_id__in=link_ids).order_by().values_list("link_id").annotate(Max("paid_at"))
    )
    return dict(rows)
