"""What its seller did to a link in some days: what a change of its figures may come from."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from cravik.core.english import counted
from cravik.links.models import Link, Spot, SpotMove
from cravik.links.versions import changes_for_buyers
from cravik.results.comparing.base import Scope

#: Of so many of the last versions it is worked out what they changed; the rest are only named.
_MOST_TOLD = 12


@dataclass(frozen=True)
class Event:
    """What happened when, in a few words."""

    at: datetime
    words: str


def events_in(scope: Scope) -> list[Event]:
    """The events of the link in the period, or of all links that they were published first, oldest first."""
    found = _of_link(scope.link, scope) if scope.link else _of_links(scope)
    return sorted(found, key=lambda event: event.at)


def _of_links(scope: Scope) -> Iterator[Event]:
    links = Link.objects.of(scope.business).filter(published_at__gte=scope.period.since)
    for link in links.filter(published_at__lt=scope.period.until).only("name", "published_at"):
        if link.published_at:
            yield Event(link.published_at, f"{link.name} published")


def _of_link(link: Link, scope: Scope) -> Iterator[Event]:
    since, until = scope.period.since, scope.period.until
    yield from _versions(link, since, until)
    spots = Spot.objects.filter(link=link, is_first=False)
    for spot in spots.filter(made_at__gte=since, made_at__lt=until):
        yield Event(spot.made_at, f"Spot made: {spot.name}")
    for spot in spots.filter(ended_at__gte=since, ended_at__lt=until):
        assert spot.ended_at is not None
        yield Event(spot.ended_at, f"Spot ended: {spot.name}")
    moves = SpotMove.objects.filter(at__gte=since, at__lt=until).select_related("spot")
    for move in moves.filter(left=link):
        yield Event(move.at, f"Spot moved away: {move.spot.name}")
    for move in moves.filter(joined=link):
        yield Event(move.at, f"Spot moved here: {move.spot.name}")
    if link.state in (Link.State.PAUSED, Link.State.ENDED) and since <= link.state_since < until:
        yield Event(link.state_since, "Paused" if link.state == Link.State.PAUSED else "Ended")


def _versions(link: Link, since: datetime, until: datetime) -> Iterator[Event]:
    published = link.editions.exclude(number=None).order_by("-number")
    within = published.filter(published_at__gte=since, published_at__lt=until).order_by("number")
    numbers = list(within.values_list("number", "published_at"))
    if not numbers:
        return
    least = (link.edition.number or 0) - _MOST_TOLD if link.edition else 0
    editions = {edition.number: edition for edition in published.filter(number__gte=least)}
    for number, at in numbers:
        assert number is not None
        later, earlier = editions.get(number), editions.get(number - 1)
        if number == 1:
            yield Event(at, "Published")
        elif later and earlier:
            changes = changes_for_buyers(earlier.effective, later.effective, link.business.time_zone)
            yield Event(at, f"Version {number}: {_told(changes)}")
        else:
            yield Event(at, f"Version {number}")


def _told(changes: tuple[str, ...]) -> str:
    """The first of them, and how many more there are."""
    if not changes:
        return "published again"
    return changes[0] if len(changes) == 1 else f"{changes[0]}, and {counted(len(changes) - 1, 'thing', 'things')} more"
