"""A link's life: publishing, pausing, resuming, ending; and its lock.

Where two could change the same link, its row is locked first: idle on SQLite, whose transactions begin IMMEDIATE and
so have one writer at a time, and right on another server.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import TYPE_CHECKING

from django.db import transaction
from django.db.models import F, Q, QuerySet

from cravik.core.errors import Fault
from cravik.core.link.closing import closes_at, is_used_up
from cravik.core.link.content import LinkContent
from cravik.core.link.limits import Limits
from cravik.core.pricing.offer import Line
from cravik.core.pricing.partial_offer import PartialLine
from cravik.core.text.faults import gap_words
from cravik.core.text.faults.wording import worded
from cravik.core.text.pieces_words import word_of
from cravik.core.text.refusal import Refusal
from cravik.events.kinds import Happening
from cravik.later import later
from cravik.links.happened import LinkEnded, LinkPaused, LinkPublished, LinkResumed, record
from cravik.links.life.counting import note_bounds, paid_of, pieces_of
from cravik.links.life.from_setup import next_number
from cravik.links.models import Link, SoldItem, Version, items_of_draft
from cravik.links.refusals import PUBLISHING
from cravik.people.actors import CLOCK, Actor

if TYPE_CHECKING:
    from cravik.core.documents import link as link_documents
else:
    link_documents = later("cravik.core.documents.link")


class NotInThatState(Exception):
    """The link's state does not allow the step; ``state`` is what it is now."""

    def __init__(self, state: str) -> None:
        super().__init__(f"The link is {state} now.")
        self.state = state


class NotReady(Refusal):
    """The draft cannot be published: it has gaps, or there are other reasons."""

    words = PUBLISHING

    @property
    def sentences(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys(reason_words(fault) for fault in self.faults))


def reason_words(fault: Fault) -> str:
    """Why the draft cannot be published, in a sentence."""
    return worded(fault, PUBLISHING) or gap_words(fault)


def why_not_ready(link: Link) -> tuple[Fault, ...]:
    """What stands in the way of publishing the draft."""
    if link.effective is None:
        return link.gaps
    return why_not_publishable(link.pk, link_documents.read_link(link.effective["link"]))


def why_not_publishable(link_id: int, content: LinkContent) -> tuple[Fault, ...]:
    """The same of a draft from which nothing is missing."""
    return tuple(too_few_pieces(link_id, content.offer.lines, content.limits).values())


def too_few_pieces(link_id: int, lines: Sequence[Line | PartialLine], limits: Limits) -> dict[str, Fault]:
    """Of which lines fewer pieces are offered than are sold or being paid for."""
    taken = pieces_of(link_id).taken if limits.pieces else {}
    return {
        line.key: Fault(
            "too_few_pieces",
            f"limits.pieces.{line.key}",
            name=line.name or line.key,
            taken=taken[line.key],
            most=limits.pieces[line.key],
            word=word_of(line, limits),
        )
        for line in lines
        if line.key in limits.pieces and limits.pieces[line.key] < taken.get(line.key, 0)
    }


@transaction.atomic
def publish(link: Link, now: datetime, *, by: Actor) -> Link:
    """Make the draft what buyers see. A live or paused link keeps its state and gets a new version; one that ended by
    its day or count is live again.

    Raises ``NotReady``, and ``NotInThatState`` for a link that was ended by hand.
    """
    fresh = locked(link)
    if fresh.ended_why == Link.EndedWhy.BY_HAND:
        raise NotInThatState(fresh.state)
    if reasons := why_not_ready(fresh):
        raise NotReady(*reasons)
    if fresh.version is None or fresh.has_unpublished_changes:
        fresh.version, fresh.is_changed = make_version(fresh, now, by), False
        record(LinkPublished(fresh.version.number or 0), fresh, now, by)
    elif fresh.state not in (Link.State.LIVE, Link.State.PAUSED):
        record(LinkResumed(), fresh, now, by)
    content = link_documents.read_link(fresh.version.effective["link"])
    fresh.closes_at = closes_at(content)
    note_bounds(fresh, content)
    if fresh.state in (Link.State.DRAFT, Link.State.ENDED):
        fresh.state, fresh.ended_why, fresh.state_since, fresh.archived_at = Link.State.LIVE, "", now, None
        fresh.published_at = fresh.published_at or now
    fresh.save()
    return fresh


def make_version(link: Link, now: datetime, by: Actor | None = None, *, rehearsed: bool = False) -> Version:
    """The draft as it is, kept: the next version, or the one of its rehearsals. The caller holds the link's lock.

    Raises ``ValueError`` while the draft has gaps.
    """
    if link.effective is None:
        raise ValueError("the draft has gaps")
    version = Version.objects.create(
        link=link,
        number=None if rehearsed else next_number(link),
        revision=link.revision if rehearsed else None,
        document=link.draft,
        effective=link.effective,
        published_at=now,
        published_by_id=by.user_id if by else None,
    )
    SoldItem.objects.bulk_create(
        SoldItem(link=link, version=version, line=line, item=item) for line, item in items_of_draft(link).items()
    )
    return version


@transaction.atomic
def rehearsed_version(link: Link, now: datetime) -> Version:
    """What a rehearsal of the draft was paid by, kept once a revision."""
    fresh = locked(link)
    there = Version.objects.filter(link=fresh, revision=fresh.revision).first()
    return there or make_version(fresh, now, rehearsed=True)


def pause(link: Link, now: datetime, *, by: Actor, until: datetime | None = None) -> Link:
    """Stop taking payments for now, or ``until`` then. Raises ``NotInThatState`` unless the link is live."""
    return _move(link, {Link.State.LIVE}, Link.State.PAUSED, now, by, resumes_at=until)


def resume(link: Link, now: datetime, *, by: Actor) -> Link:
    """Take payments again, after a pause or an end by hand."""
    return _move(link, {Link.State.PAUSED, Link.State.ENDED}, Link.State.LIVE, now, by)


def end(link: Link, now: datetime, *, by: Actor) -> Link:
    """Take no more payments. Raises ``NotInThatState`` unless the link is live or paused."""
    return _move(link, {Link.State.LIVE, Link.State.PAUSED}, Link.State.ENDED, now, by, Link.EndedWhy.BY_HAND)


def end_by_count(link_id: int, now: datetime, *, by: Actor) -> None:
    """The last order that the link may have was paid. In the transaction under way."""
    _end_live(Link.objects.filter(id=link_id), Link.EndedWhy.COUNT, now, by)


def end_what_is_due(now: datetime) -> int:
    """End every link whose day has come; returns how many. Safe to run at any time and twice."""
    return _end_live(Link.objects.filter(closes_at__lte=now), Link.EndedWhy.DAY, now, CLOCK)


def resume_what_is_due(now: datetime) -> int:
    """Resume every link whose pause is over; returns how many. Safe to run at any time and twice."""
    resumed = 0
    for link in Link.objects.filter(state=Link.State.PAUSED, resumes_at__lte=now):
        try:
            _move(link, {Link.State.PAUSED}, Link.State.LIVE, now, CLOCK)
        except NotInThatState:
            continue  # ended meanwhile
        resumed += 1
    return resumed


def end_what_is_used_up(now: datetime) -> int:
    """End every link of which nothing is left that wasn't ended by its last order, which was bought by a version that
    didn't count yet; returns how many. Safe to run at any time and twice."""
    full = Q(tally__most__lte=F("tally__paid")) | Q(pieces__most__lte=F("pieces__paid"))
    going = Link.objects.filter(full, state__in=[Link.State.LIVE, Link.State.PAUSED]).select_related("version")
    ended = 0
    for link in going.distinct():
        assert link.version is not None
        if is_used_up(link_documents.read_link(link.version.effective["link"]), paid_of(link.pk)):
            ended += _end_live(Link.objects.filter(id=link.pk), Link.EndedWhy.COUNT, now, CLOCK)
    return ended


@transaction.atomic
def _end_live(links: QuerySet[Link], why: Link.EndedWhy, now: datetime, by: Actor) -> int:
    going = links.filter(state__in=[Link.State.LIVE, Link.State.PAUSED])
    ended = list(going.select_for_update().only("business_id"))
    if ended:
        going.filter(id__in=[link.pk for link in ended]).update(
            state=Link.State.ENDED, ended_why=why, state_since=now, resumes_at=None
        )
    for link in ended:
        record(LinkEnded(why), link, now, by)
    return len(ended)


@transaction.atomic
def _move(
    link: Link,
    allowed: set[str],
    to: Link.State,
    now: datetime,
    by: Actor,
    why: str = "",
    *,
    resumes_at: datetime | None = None,
) -> Link:
    fresh = locked(link)
    if fresh.state == to:  # pressed twice
        return fresh
    if fresh.state not in allowed or fresh.ended_why not in ("", Link.EndedWhy.BY_HAND):
        raise NotInThatState(fresh.state)
    fresh.state, fresh.state_since, fresh.ended_why, fresh.resumes_at = to, now, why, resumes_at
    if to == Link.State.LIVE:
        fresh.archived_at = None
    fresh.save(update_fields=["state", "state_since", "ended_why", "archived_at", "resumes_at"])
    record(LinkEnded(why) if to == Link.State.ENDED else _MOVED[to], fresh, now, by)
    return fresh


_MOVED: Mapping[str, Happening] = {Link.State.PAUSED: LinkPaused(), Link.State.LIVE: LinkResumed()}


def locked(link: Link) -> Link:
    """The link as it is stored now, which nobody else changes before this transaction ends."""
    links = Link.objects.select_for_update(of=("self",)).select_related("business", "version")
    return links.prefetch_related("sold_items__item").get(id=link.id)
