"""What its seller did to a link in some days: what a change of its figures may come from."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from cravik.core.english import counted
from cravik.events.reading import events_of_link
from cravik.links.happened import (
    LinkAddressChanged,
    LinkArchived,
    LinkEnded,
    LinkFound,
    LinkPaused,
    LinkPublished,
    LinkResumed,
    SpotEnded,
    SpotMade,
    SpotMovedAway,
    SpotMovedHere,
    SpotReopened,
    WaitingWritten,
)
from cravik.links.life.versions import changes_for_buyers
from cravik.links.models import Link
from cravik.results.comparing.base import Scope

#: Of so many of the last versions it is worked out what they changed; the rest are only named.
_MOST_TOLD = 12
#: What may be the cause of other figures, beside what was published.
_MOVES_FIGURES = (
    *(LinkPaused, LinkResumed, LinkEnded, LinkArchived, LinkAddressChanged, LinkFound, WaitingWritten),
    *(SpotMade, SpotEnded, SpotReopened, SpotMovedAway, SpotMovedHere),
)


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
    happened = events_of_link(link.pk, since=scope.period.since, until=scope.period.until)[::-1]
    yield from _versions(
        link, [(each.what.version, each.at) for each in happened if isinstance(each.what, LinkPublished)]
    )
    for each in happened:
        if isinstance(each.what, _MOVES_FIGURES):
            yield Event(each.at, each.words)


def _versions(link: Link, numbers: Sequence[tuple[int, datetime]]) -> Iterator[Event]:
    if not numbers:
        return
    published = link.versions.exclude(number=None)
    least = (link.version.number or 0) - _MOST_TOLD if link.version else 0
    versions = {version.number: version for version in published.filter(number__gte=least)}
    for number, at in numbers:
        later, earlier = versions.get(number), versions.get(number - 1)
        if number == 1:
            yield Event(at, "Published")
        elif later and earlier:
            changes = changes_for_buyers(earlier.effective, later.effective, link.business.time_zone)
            yield Event(at, f"Version {number}: {_changes_words(changes)}")
        else:
            yield Event(at, f"Version {number}")


def _changes_words(changes: tuple[str, ...]) -> str:
    """The first of them, and how many more there are."""
    if not changes:
        return "published again"
    return changes[0] if len(changes) == 1 else f"{changes[0]}, and {counted(len(changes) - 1, 'thing', 'things')} more"
