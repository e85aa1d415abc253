"""Named writes of brand looks."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db import transaction

from cravik.core.graphics.palette import COLOURS, USUAL
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import Renamed, Subject, tell_followers
from cravik.setup.happened import record
from cravik.setup.models import Look
from cravik.setup.saving import ChangedElsewhere, NameTaken

MAX_LOOKS = 20


class TooManyLooks(Exception):
    """The business has as many looks as it can."""


def starting_document() -> dict[str, Any]:
    """What a new look begins with: the product's own colours, to be changed."""
    colours = {name: getattr(USUAL, name).hex for name in COLOURS}
    return {"colours": colours, "type": "stall", "corners": "slight"}


@transaction.atomic
def make_look(business: Business, now: datetime, like: Look | None = None, *, by: Actor) -> Look:
    """A new look, like another without its pictures, or from the start. The first is the default.

    Raises ``TooManyLooks``.
    """
    names = set(Look.objects.filter(business=business).values_list("name", flat=True))
    if len(names) >= MAX_LOOKS:
        raise TooManyLooks
    wanted = f"{like.name[:50]}, copied" if like else "New look" if names else "Our look"
    name = next(each for each in (wanted, *(f"{wanted} {number}" for number in range(2, 99))) if each not in names)
    document = dict(like.document) if like else starting_document()
    for picture in ("logo", "icon"):  # whose files belong to one look
        document.pop(picture, None)
    look = Look.objects.create(business=business, name=name, document=document, is_default=not names, changed_at=now)
    _tell(look, now, by, "made")
    tell_followers(business, now)
    return look


@transaction.atomic
def change_look(
    look: Look, name: str, document: Mapping[str, Any], seen_revision: int, now: datetime, *, by: Actor
) -> None:
    """Make the look look so. Drafts that have it follow at once.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored, and ``NameTaken``.
    """
    fresh = Look.objects.select_related("business").get(id=look.pk)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    if Look.objects.filter(business=fresh.business, name=name).exclude(id=look.pk).exists():
        raise NameTaken
    renamed = Renamed(Subject.LOOK, fresh.name, name)
    fresh.name, fresh.document, fresh.changed_at = name, dict(document), now
    fresh.revision += 1
    fresh.save()
    _tell(fresh, now, by, "changed")
    tell_followers(fresh.business, now, renamed)


@transaction.atomic
def make_default(look: Look, now: datetime, *, by: Actor) -> None:
    """Let every link without a look of its own have this one."""
    Look.objects.filter(business_id=look.business_id, is_default=True).update(is_default=False)
    Look.objects.filter(id=look.pk).update(is_default=True)
    _tell(look, now, by, "made the default")
    tell_followers(look.business, now)


@transaction.atomic
def remove_look(look: Look, now: datetime, *, by: Actor) -> None:
    """Take the look away. Links that chose it, or follow it as the default, have the default's or the product's own.

    Its pictures stay: published links may show them until their look is brought up.
    """
    _tell(look, now, by, "removed")
    look.delete()
    tell_followers(look.business, now)


def _tell(look: Look, now: datetime, by: Actor, act: str) -> None:
    record(look.business_id, "look", f"Look “{look.name}”", now, by, act)
