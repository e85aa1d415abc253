"""Terms and conditions: named writes, and what a link's setting holds of them."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction
from django.urls import reverse

from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import Renamed, Subject, tell_followers
from cravik.setup.happened import tell
from cravik.setup.models import Conditions, ConditionsVersion
from cravik.setup.saving import ChangedElsewhere, NameTaken

MAX_CONDITIONS = 20


class TooMany(Exception):
    """The business has as many sets of terms as it can."""


@dataclass(frozen=True)
class Agreed:
    """What a buyer's page asks to agree to: a version by its id, its public key, and how it is called."""

    version_id: int
    key: str
    name: str

    @property
    def path(self) -> str:
        return reverse("terms:version", args=[self.key])


def agreed_in(setting: Mapping[str, Any]) -> Agreed | None:
    """What the setting of a link or an edition asks buyers to agree to, if anything."""
    chosen = setting.get("conditions")
    return Agreed(chosen["version"], chosen["key"], chosen["name"]) if chosen else None


@transaction.atomic
def make_conditions(business: Business, name: str, words: str, now: datetime, *, by: Actor) -> Conditions:
    """New terms with their first version. The first terms are the default. Raises ``TooMany`` and ``NameTaken``."""
    there = Conditions.objects.filter(business=business, put_away=False)
    if there.count() >= MAX_CONDITIONS:
        raise TooMany
    if there.filter(name=name).exists():
        raise NameTaken
    made = Conditions.objects.create(business=business, name=name, is_default=not there.exists())
    _write_version(made, 1, words, now)
    _tell(made, now, by, "made")
    tell_followers(business, now)
    return made


@transaction.atomic
def change_conditions(terms: Conditions, name: str, words: str, seen_number: int, now: datetime, *, by: Actor) -> bool:
    """Give the terms a name, and a new version if the words changed; returns whether they did.

    Raises ``ChangedElsewhere`` unless ``seen_number`` is the present version, and ``NameTaken``.
    """
    present = Conditions.objects.get(id=terms.pk).version
    if present.number != seen_number:
        raise ChangedElsewhere
    others = Conditions.objects.filter(business_id=terms.business_id, put_away=False).exclude(id=terms.pk)
    if others.filter(name=name).exists():
        raise NameTaken
    renamed = Renamed(Subject.CONDITIONS, terms.name, name)
    Conditions.objects.filter(id=terms.pk).update(name=name)
    if is_new := present.words != words:
        _write_version(terms, present.number + 1, words, now)
    if is_new or terms.name != name:
        _tell(terms, now, by, "changed")
    tell_followers(terms.business, now, renamed)
    return is_new


@transaction.atomic
def make_default(terms: Conditions, now: datetime, *, by: Actor) -> None:
    """Let every link without terms of its own have these."""
    Conditions.objects.filter(business_id=terms.business_id, is_default=True).update(is_default=False)
    Conditions.objects.filter(id=terms.pk).update(is_default=True)
    _tell(terms, now, by, "made the default")
    tell_followers(terms.business, now)


@transaction.atomic
def put_away(terms: Conditions, now: datetime, *, by: Actor) -> None:
    """Offer the terms no more. Drafts that had them have the default's, or none; every version stays readable."""
    Conditions.objects.filter(id=terms.pk).update(put_away=True, is_default=False)
    _tell(terms, now, by, "archived")
    tell_followers(terms.business, now)


def _tell(terms: Conditions, now: datetime, by: Actor, act: str) -> None:
    tell(terms.business_id, "terms", f"Terms “{terms.name}”", now, by, act)


def _write_version(terms: Conditions, number: int, words: str, now: datetime) -> None:
    ConditionsVersion.objects.create(
        conditions=terms, number=number, key=secrets.token_urlsafe(12), words=words, made_at=now
    )
