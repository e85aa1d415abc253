"""What each edition of a link changed, and what was paid on its terms."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.core.pricing.money import Money
from cravik.links.models import Edition, Link
from cravik.links.versions import changes_for_buyers
from cravik.orders.queries import Earned, earned_by_edition


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


def versions_of(link: Link) -> list[Version]:
    """The versions of the link that buyers saw, newest first."""
    published = link.editions.exclude(number=None).select_related("published_by").order_by("-number")
    editions = list(published)
    earned, zone = earned_by_edition(link.pk), link.business.time_zone
    versions = []
    for later, edition, earlier in zip([None, *editions], editions, [*editions[1:], None], strict=False):
        changes = changes_for_buyers(earlier.effective, edition.effective, zone) if earlier else ()
        until = later.published_at if later else None
        paid = earned.get(edition.pk, Earned())
        like_draft = edition.effective == link.effective
        versions.append(Version(edition, until, changes, paid.orders, paid.money, like_draft))
    return versions
