"""What each version of a link changed, and what followed: who came to it, how many paid, and the money."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from django.db.models import QuerySet

from cravik.core.pricing.money import Money
from cravik.journal.facets import Visits
from cravik.journal.models import Facet
from cravik.journal.queries import visits_of_links
from cravik.links.life.versions import changes_for_buyers
from cravik.links.models import Link, Version
from cravik.orders.queries import Earned, earned_by_version
from cravik.setup.periods import Period

MAX_AT_ONCE = 25


@dataclass(frozen=True)
class VersionRow:
    """A version: until when buyers saw it (None: they still do), what it changed (nothing for the first), the visits
    that saw it first, and what was paid by it."""

    version: Version
    until: datetime | None
    changes: tuple[str, ...]
    visits: Visits
    orders: int
    money: tuple[Money, ...]
    is_like_draft: bool


def published_versions(link: Link) -> QuerySet[Version]:
    """What buyers saw of the link, newest first."""
    return link.versions.exclude(number=None).select_related("published_by").order_by("-number")


def versions_of(link: Link, now: datetime, first: int = 0, most: int = MAX_AT_ONCE) -> list[VersionRow]:
    """So many of the link's versions, newest first, from the one at that place, with the visits until now."""
    around = list(published_versions(link)[max(0, first - 1) : first + most + 1])
    before = around[:1] if first else []
    versions = around[len(before) :][:most]
    after = around[len(before) + most :]
    earned, visits, zone = earned_by_version(link.pk), _visits(link, now), link.business.time_zone
    rows = []
    laters: list[Version | None] = [*before] if before else [None]
    earliers: list[Version | None] = [*versions[1:], *after] if after else [*versions[1:], None]
    for later, version, earlier in zip([*laters, *versions], versions, earliers, strict=False):
        changes = changes_for_buyers(earlier.effective, version.effective, zone) if earlier else ()
        until = later.published_at if later else None
        paid = earned.get(version.pk, Earned())
        like_draft = version.effective == link.effective
        seen = visits.get(str(version.pk), Visits())
        rows.append(VersionRow(version, until, changes, seen, paid.orders, paid.money, like_draft))
    return rows


def _visits(link: Link, now: datetime) -> dict[str, Visits]:
    """All visits that the link ever had, by the id of the version that each saw first."""
    zone = ZoneInfo(link.business.time_zone)
    ever = Period(link.made_at.astimezone(zone).date(), now.astimezone(zone).date(), link.business.time_zone)
    found = visits_of_links(Facet.VERSION, link.business_id, ever, [link.pk])
    return {value: visits for (_, value), visits in found.items()}
