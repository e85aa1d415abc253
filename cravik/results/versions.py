"""What each edition of a link changed, and what followed: who came to it, how many paid, and the money."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from django.db.models import QuerySet

from cravik.core.pricing.money import Money
from cravik.journal.facets import Visits
from cravik.journal.models import Facet
from cravik.journal.queries import visits_of_links
from cravik.links.models import Edition, Link
from cravik.links.versions import changes_for_buyers
from cravik.orders.queries import Earned, earned_by_edition
from cravik.setup.periods import Period

MAX_AT_ONCE = 25


@dataclass(frozen=True)
class Version:
    """An edition: until when buyers saw it (None: they still do), what it changed (nothing for the first), the visits
    that saw it first, and what was paid on its terms."""

    edition: Edition
    until: datetime | None
    changes: tuple[str, ...]
    visits: Visits
    orders: int
    money: tuple[Money, ...]
    is_like_draft: bool


def published_editions(link: Link) -> QuerySet[Edition]:
    """What buyers saw of the link, newest first."""
    return link.editions.exclude(number=None).select_related("published_by").order_by("-number")


def versions_of(link: Link, now: datetime, first: int = 0, most: int = MAX_AT_ONCE) -> list[Version]:
    """So many of the link's versions, newest first, from the one at that place, with the visits until now."""
    around = list(published_editions(link)[max(0, first - 1) : first + most + 1])
    before = around[:1] if first else []
    editions = around[len(before) :][:most]
    after = around[len(before) + most :]
    earned, visits, zone = earned_by_edition(link.pk), _visits(link, now), link.business.time_zone
    versions = []
    laters: list[Edition | None] = [*before] if before else [None]
    earliers: list[Edition | None] = [*editions[1:], *after] if after else [*editions[1:], None]
    for later, edition, earlier in zip([*laters, *editions], editions, earliers, strict=False):
        changes = changes_for_buyers(earlier.effective, edition.effective, zone) if earlier else ()
        until = later.published_at if later else None
        paid = earned.get(edition.pk, Earned())
        like_draft = edition.effective == link.effective
        seen = visits.get(str(edition.pk), Visits())
        versions.append(Version(edition, until, changes, seen, paid.orders, paid.money, like_draft))
    return versions


def _visits(link: Link, now: datetime) -> dict[str, Visits]:
    """All visits that the link ever had, by the id of the edition that each saw first."""
    zone = ZoneInfo(link.business.time_zone)
    ever = Period(link.made_at.astimezone(zone).date(), now.astimezone(zone).date(), link.business.time_zone)
    found = visits_of_links(Facet.EDITION, link.business_id, ever, [link.pk])
    return {value: visits for (_, value), visits in found.items()}
