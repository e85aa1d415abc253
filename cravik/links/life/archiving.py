"""Removing a link that nobody ever paid, archiving one that was, and getting it back."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.links.happened import LinkArchived, LinkRemoved, LinkRestored, record
from cravik.links.life.counting import lock_tally
from cravik.links.life.lifecycle import NotInThatState, locked
from cravik.links.models import Link
from cravik.people.actors import Actor


class BeingPaid(Exception):
    """Somebody is paying for the link at this moment."""


def was_paid(link: Link) -> bool:
    """Whether anybody ever paid for the link; refunded or not."""
    return link.tally.paid > 0


@transaction.atomic
def remove(link: Link, now: datetime, *, by: Actor) -> None:
    """Let the link be as if it had never been; its addresses answer that there is nothing, and go to no other link.

    Raises ``NotInThatState`` where somebody paid for it, and ``BeingPaid``.
    """
    fresh, tally = locked(link), lock_tally(link.pk)
    if tally.held:
        raise BeingPaid
    if tally.paid:
        raise NotInThatState(fresh.state)
    _end(fresh, now)
    fresh.removed_at, fresh.is_starting_point = now, False
    fresh.save()
    fresh.waiting.all().delete()
    record(LinkRemoved(fresh.name), fresh, now, by)


@transaction.atomic
def archive(link: Link, now: datetime, *, by: Actor) -> None:
    """Take the link out of every list; it ends, and its address says so. Orders and results stay."""
    fresh = locked(link)
    if fresh.archived_at is None:
        record(LinkArchived(), fresh, now, by)
    _end(fresh, now)
    fresh.archived_at = fresh.archived_at or now
    fresh.save()


@transaction.atomic
def unarchive(link: Link, now: datetime, *, by: Actor) -> None:
    """Let the link stand in the lists again, as it was when it was archived: ended, unless it was a draft."""
    fresh = locked(link)
    if fresh.archived_at is not None:
        record(LinkRestored(), fresh, now, by)
    fresh.archived_at = None
    fresh.save(update_fields=["archived_at"])


def _end(link: Link, now: datetime) -> None:
    if link.state in (Link.State.LIVE, Link.State.PAUSED):
        link.state, link.ended_why, link.state_since = Link.State.ENDED, Link.EndedWhy.BY_HAND, now
