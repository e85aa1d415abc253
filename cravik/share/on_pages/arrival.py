"""Whether a button arrived where its seller put it: they say the page, and whoever sees it there proves it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.core.link.sites import LOCAL, site_in
from cravik.journal.queries import last_visit_from
from cravik.links.models import Spot
from cravik.share.models import PlacedSpot, Sighting


@dataclass(frozen=True)
class Arrival:
    """``host`` is that of the page; ``seen_at`` when its button was last drawn there, or, for one without a script,
    when somebody last came from there."""

    address: str
    host: str
    placed_at: datetime
    seen_at: datetime | None
    #: Whether it may open there.
    is_allowed: bool


def place(spot: Spot, address: str, now: datetime) -> None:
    """Note the page that the spot's button was put on."""
    PlacedSpot.objects.update_or_create(spot=spot, defaults={"address": address, "placed_at": now})


def arrival_of(spot: Spot) -> Arrival | None:
    """Whether the button was seen on the page that was said; None where none was."""
    placed = PlacedSpot.objects.filter(spot=spot).first()
    if placed is None:
        return None
    host = site_in(placed.address)
    hosts = ("", LOCAL) if host == LOCAL else (host,)
    drawn = Sighting.objects.filter(spot=spot, host__in=hosts).order_by("-last_at").first()
    came = None if drawn else last_visit_from(spot.pk, [host, f"www.{host}"])
    seen_at = drawn.last_at if drawn else came
    return Arrival(placed.address, host, placed.placed_at, seen_at, drawn.is_allowed if drawn else True)
