"""On which sites the button of a spot was seen, and which of them may not open it."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime, timedelta

import structlog
from django.db import DatabaseError

from cravik.links.models import Link, Spot
from cravik.share.models import Sighting
from cravik.upkeep.queued_sqlite.patience import patience

#: Sites that are kept of a spot, and how often one is written again.
MAX_SITES_SEEN = 50
_AGAIN = timedelta(minutes=1)
#: Seconds that the page waits for it to be written.
_PATIENCE = 0.3
_MAX_REMEMBERED = 5000

logger = structlog.stdlib.get_logger("cravik.share")
#: What this process wrote last, so that a page that is shown a thousand times a minute is written once.
_written: dict[tuple[int, str, bool], datetime] = {}


def note_seen(spot_id: int, host: str, now: datetime, *, is_allowed: bool) -> None:
    """Note that a page of the host (nothing: a file) asked for the button, if that can be written within a moment."""
    key = (spot_id, host, is_allowed)
    if now - _written.get(key, now - _AGAIN) < _AGAIN:
        return
    if len(_written) >= _MAX_REMEMBERED:
        _written.clear()
    _written[key] = now
    try:
        with patience(_PATIENCE):
            _write(spot_id, host[:253], now, is_allowed)
    except DatabaseError as trouble:
        logger.warning("where a button was seen was not written", trouble=type(trouble).__name__)


def _write(spot_id: int, host: str, now: datetime, is_allowed: bool) -> None:
    there = Sighting.objects.filter(spot_id=spot_id)
    if there.filter(host=host).update(last_at=now, is_allowed=is_allowed):
        return
    if is_allowed or there.count() < MAX_SITES_SEEN:
        Sighting.objects.get_or_create(
            spot_id=spot_id, host=host, defaults={"first_at": now, "last_at": now, "is_allowed": is_allowed}
        )


def seen_at(spot: Spot) -> list[Sighting]:
    """Where the spot's button was seen, the last one first."""
    return list(Sighting.objects.filter(spot=spot).order_by("-last_at", "host"))


def last_seen(spot_ids: Collection[int]) -> dict[int, Sighting]:
    """Where the button of each of the spots was seen last; those that were seen nowhere are absent."""
    rows = Sighting.objects.filter(spot_id__in=spot_ids).order_by("last_at")
    return {row.spot_id: row for row in rows}


def refuse(link: Link, host: str) -> None:
    """Let the button stay a plain link there, and be silent about it."""
    Sighting.objects.filter(spot__link=link, host=host, is_allowed=False).update(is_refused=True)


def asking_for(link: Link) -> list[Sighting]:
    """The sites on which a button of the link is a plain link, since they are not allowed, and nobody said that they
    should not be."""
    found = Sighting.objects.filter(spot__link=link, is_allowed=False, is_refused=False).exclude(host="")
    return list(found.select_related("spot").order_by("-last_at")[:MAX_SITES_SEEN])
