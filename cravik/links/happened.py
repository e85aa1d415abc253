"""What happens to links and their spots."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.events.kinds import Happening, of_kind
from cravik.events.writing import About, write
from cravik.links.models import Link, Spot
from cravik.people.actors import Actor


@of_kind("link.made")
@dataclass(frozen=True)
class LinkMade:
    #: The name of the link that it is a copy of.
    copy_of: str = ""

    def words(self) -> str:
        return f"Made as a copy of “{self.copy_of}”" if self.copy_of else "Made"


@of_kind("link.published")
@dataclass(frozen=True)
class LinkPublished:
    version: int

    def words(self) -> str:
        return f"Published as version {self.version}"


@of_kind("link.paused")
@dataclass(frozen=True)
class LinkPaused:
    def words(self) -> str:
        return "Paused"


@of_kind("link.resumed")
@dataclass(frozen=True)
class LinkResumed:
    def words(self) -> str:
        return "Resumed"


@of_kind("link.ended")
@dataclass(frozen=True)
class LinkEnded:
    #: As ``Link.EndedWhy`` has it.
    why: str

    def words(self) -> str:
        return {"day": "Ended: its last day passed", "count": "Ended: all of it was taken"}.get(self.why, "Ended")


@of_kind("link.archived")
@dataclass(frozen=True)
class LinkArchived:
    def words(self) -> str:
        return "Archived"


@of_kind("link.restored")
@dataclass(frozen=True)
class LinkRestored:
    def words(self) -> str:
        return "Taken out of the archive"


@of_kind("link.removed")
@dataclass(frozen=True)
class LinkRemoved:
    name: str

    def words(self) -> str:
        return f"“{self.name}” removed"


@of_kind("link.renamed")
@dataclass(frozen=True)
class LinkRenamed:
    name: str
    former: str

    def words(self) -> str:
        return f"Renamed from “{self.former}” to “{self.name}”"


@of_kind("link.address_changed")
@dataclass(frozen=True)
class LinkAddressChanged:
    slug: str

    def words(self) -> str:
        return f"Address changed to /for/{self.slug}/"


@of_kind("link.found")
@dataclass(frozen=True)
class LinkFound:
    is_findable: bool

    def words(self) -> str:
        return "Search engines allowed" if self.is_findable else "Search engines asked to stay away"


@of_kind("link.site")
@dataclass(frozen=True)
class LinkSite:
    host: str
    is_allowed: bool

    def words(self) -> str:
        return f"{self.host} may open it" if self.is_allowed else f"{self.host} may not open it any more"


@of_kind("link.waiting_written")
@dataclass(frozen=True)
class WaitingWritten:
    number: int

    def words(self) -> str:
        return f"Message sent to {self.number} who waited"


@of_kind("spot.made")
@dataclass(frozen=True)
class SpotMade:
    name: str

    def words(self) -> str:
        return f"Spot made: {self.name}"


@of_kind("spot.renamed")
@dataclass(frozen=True)
class SpotRenamed:
    name: str
    former: str

    def words(self) -> str:
        return f"Spot renamed from “{self.former}” to “{self.name}”"


@of_kind("spot.looks_changed")
@dataclass(frozen=True)
class SpotLooksChanged:
    """``what`` of it, in a word: button, code, photo."""

    name: str
    what: str

    def words(self) -> str:
        whats = {"button": "Button", "code": "QR code", "photo": "Photo"}
        return f"{whats.get(self.what, self.what)} changed: {self.name}"


@of_kind("waiting.removed")
@dataclass(frozen=True)
class WaitingRemoved:
    def words(self) -> str:
        return "An address taken off those who wait"


@of_kind("spot.ended")
@dataclass(frozen=True)
class SpotEnded:
    name: str

    def words(self) -> str:
        return f"Spot ended: {self.name}"


@of_kind("spot.reopened")
@dataclass(frozen=True)
class SpotReopened:
    name: str

    def words(self) -> str:
        return f"Spot opened again: {self.name}"


@of_kind("spot.moved_away")
@dataclass(frozen=True)
class SpotMovedAway:
    name: str
    joined: str

    def words(self) -> str:
        return f"Spot moved away: {self.name}, to “{self.joined}”"


@of_kind("spot.moved_here")
@dataclass(frozen=True)
class SpotMovedHere:
    name: str
    left: str

    def words(self) -> str:
        return f"Spot moved here: {self.name}, from “{self.left}”"


def about(link: Link, spot: Spot | None = None) -> About:
    return About(link.business_id, link_id=link.pk, spot_id=spot.pk if spot else None)


def record(what: Happening, link: Link, now: datetime, by: Actor, spot: Spot | None = None) -> None:
    """Write down what happened to the link, or to a spot of it. In the transaction under way."""
    write(what, about(link, spot), now, by)
