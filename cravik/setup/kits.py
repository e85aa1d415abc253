"""Named writes of brand kits."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db import transaction

from cravik.core.graphics.palette import COLOURS, USUAL
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import Renamed, Subject, tell_followers
from cravik.setup.happened import tell
from cravik.setup.models import Kit
from cravik.setup.saving import ChangedElsewhere, NameTaken

MAX_KITS = 20


class TooManyKits(Exception):
    """The business has as many kits as it can."""


def starting_document() -> dict[str, Any]:
    """What a new kit begins with: the product's own colours, to be changed."""
    colours = {name: getattr(USUAL, name).hex for name in COLOURS}
    return {"colours": colours, "type": "stall", "corners": "slight"}


@transaction.atomic
def make_kit(business: Business, now: datetime, like: Kit | None = None, *, by: Actor) -> Kit:
    """A new kit, like another without its pictures, or from the start. The first is the default.

    Raises ``TooManyKits``.
    """
    names = set(Kit.objects.filter(business=business).values_list("name", flat=True))
    if len(names) >= MAX_KITS:
        raise TooManyKits
    wanted = f"{like.name[:50]}, copied" if like else "New look" if names else "Our look"
    name = next(each for each in (wanted, *(f"{wanted} {number}" for number in range(2, 99))) if each not in names)
    document = dict(like.document) if like else starting_document()
    for picture in ("logo", "icon"):  # whose files belong to one kit
        document.pop(picture, None)
    kit = Kit.objects.create(business=business, name=name, document=document, is_default=not names, changed_at=now)
    _tell(kit, now, by, "made")
    tell_followers(business, now)
    return kit


@transaction.atomic
def change_kit(
    kit: Kit, name: str, document: Mapping[str, Any], seen_revision: int, now: datetime, *, by: Actor
) -> None:
    """Make the kit look so. Drafts that have it follow at once.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored, and ``NameTaken``.
    """
    fresh = Kit.objects.select_related("business").get(id=kit.pk)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    if Kit.objects.filter(business=fresh.business, name=name).exclude(id=kit.pk).exists():
        raise NameTaken
    renamed = Renamed(Subject.LOOK, fresh.name, name)
    fresh.name, fresh.document, fresh.changed_at = name, dict(document), now
    fresh.revision += 1
    fresh.save()
    _tell(fresh, now, by, "changed")
    tell_followers(fresh.business, now, renamed)


@transaction.atomic
def make_default(kit: Kit, now: datetime, *, by: Actor) -> None:
    """Let every link without a look of its own have this one."""
    Kit.objects.filter(business_id=kit.business_id, is_default=True).update(is_default=False)
    Kit.objects.filter(id=kit.pk).update(is_default=True)
    _tell(kit, now, by, "made the default")
    tell_followers(kit.business, now)


@transaction.atomic
def remove_kit(kit: Kit, now: datetime, *, by: Actor) -> None:
    """Take the kit away. Links that chose it, or follow it as the default, have the default's or the product's own.

    Its pictures stay: published links may show them until their look is brought up.
    """
    _tell(kit, now, by, "removed")
    kit.delete()
    tell_followers(kit.business, now)


def _tell(kit: Kit, now: datetime, by: Actor, act: str) -> None:
    tell(kit.business_id, "look", f"Look “{kit.name}”", now, by, act)
