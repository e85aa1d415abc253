"""Reading orders."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime

from django.db.models import Count, Max, Sum

from cravik.core.pricing.money import Money
from cravik.orders.models import Order
from cravik.payments.models import Movement
from cravik.people.models import Business


def last_paid_by_link(business: Business, link_ids: Collection[int] | None = None) -> dict[int, datetime]:
    """When each link of the business, or each of those that are named, was last paid."""
    orders = Order.objects.of(business).counted()
    if link_ids is not None:
        orders = Order.objects.counted().filter(link_id__in=link_ids)
    return dict(orders.order_by().values_list("link_id").annotate(Max("paid_at")))


@dataclass(frozen=True)
class Earned:
    """How many orders there are, and what they brought, net of refunds, one sum a currency."""

    orders: int = 0
    money: tuple[Money, ...] = ()


def earned_by_version(link_id: int) -> dict[int, Earned]:
    """What was paid by each of the link's versions; those on which nothing was paid are absent."""
    orders = Order.objects.counted().filter(link_id=link_id).order_by().values_list("version").annotate(Count("id"))
    moved = Movement.objects.filter(checkout__order__link=link_id, rehearsal=False).order_by("currency")
    sums: defaultdict[int, list[Money]] = defaultdict(list)
    by_version = moved.values_list("checkout__order__version", "currency").annotate(minor=Sum("amount_minor"))
    for version, currency, minor in by_version:
        sums[version].append(Money(minor, currency))
    return {version: Earned(count, tuple(sums[version])) for version, count in orders}
