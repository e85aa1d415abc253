"""What each edition of a link changed, and what was paid on its terms."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.db.models import QuerySet

from cravik.core.pricing.money import Money
from cravik.links.models import Edition, Link
from cravik.links.versions import changes_for_buyers
from cravik.orders.queries import Earned, earned_by_edition

MAX_AT_ONCE = 25


@dataclass(frozen=True)
class Version:
    """An edition: until when buyers saw it (None: they still do), what it changed (nothing for the first), and what
    was paid on its terms."""

    edition: Edition
    until: datetime | None
    changes: tuple[str, ...]
    orders: int
    money: tuple[Money, ...]
    is_like_draft: bool


def published_editions(link: Link) -> QuerySet[Edition]:
    """What buyers saw of the link, newest first."""
    return link.editions.exclude(number=None).select_related("published_by").order_by("-number")


def versions_of(link: Link, first: int = 0, most: int = MAX_AT_ONCE) -> list[Version]:
    """So many of the link's versions, newest first, from the one at that place."""
    around = list(published_editions(link)[max(0, first - 1) : first + most + 1])
    before = around[:1] if first else []
    editions = around[len(before) :][:most]
    after = around[len(before) + most :]
    earned, zone = earned_by_edition(link.pk), link.business.time_zone
    versions = []
    laters: list[Edition | None] = [*before] if before else [None]
    earliers: list[Edition | None] = [*editions[1:], *after] if after else [*editions[1:], None]
    for later, edition, earlier in zip([*laters, *editions], editions, earliers, strict=False):
        changes = changes_for_buyers(earlier.effective, edition.effective, zone) if earlier else ()
        until = later.published_at if later else None
        paid = earned.get(edition.pk, Earned())
        like_draft = edition.effective == link.effective
        versions.append(Version(edition, until, changes, paid.orders, paid.money, like_draft))
    return versions
