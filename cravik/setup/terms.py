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
from cravik.setup.happened import record
from cravik.setup.models import Terms, TermsVersion
from cravik.setup.saving import ChangedElsewhere, NameTaken

MAX_TERMS = 20


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
    """What the setting of a link or a version asks buyers to agree to, if anything."""
    chosen = setting.get("conditions")
    return Agreed(chosen["version"], chosen["key"], chosen["name"]) if chosen else None


@transaction.atomic
def make_terms(business: Business, name: str, words: str, now: datetime, *, by: Actor) -> Terms:
    """New terms with their first version. The first terms are the default. Raises ``TooMany`` and ``NameTaken``."""
    there = Terms.objects.filter(business=business, archived=False)
    if there.count() >= MAX_TERMS:
        raise TooMany
    if there.filter(name=name).exists():
        raise NameTaken
    made = Terms.objects.create(business=business, name=name, is_default=not there.exists())
    _write_version(made, 1, words, now)
    _tell(made, now, by, "made")
    tell_followers(business, now)
    return made


@transaction.atomic
def change_terms(terms: Terms, name: str, words: str, seen_number: int, now: datetime, *, by: Actor) -> bool:
    """Give the terms a name, and a new version if the words changed; returns whether they did.

    Raises ``ChangedElsewhere`` unless ``seen_number`` is the present version, and ``NameTaken``.
    """
    present = Terms.objects.get(id=terms.pk).version
    if present.number != seen_number:
        raise ChangedElsewhere
    others = Terms.objects.filter(business_id=terms.business_id, archived=False).exclude(id=terms.pk)
    if others.filter(name=name).exists():
        raise NameTaken
    renamed = Renamed(Subject.TERMS, terms.name, name)
    Terms.objects.filter(id=terms.pk).update(name=name)
    if is_new := present.words != words:
        _write_version(terms, present.number + 1, words, now)
    if is_new or terms.name != name:
        _tell(terms, now, by, "changed")
    tell_followers(terms.business, now, renamed)
    return is_new


@transaction.atomic
def make_default(terms: Terms, now: datetime, *, by: Actor) -> None:
    """Let every link without terms of its own have these."""
    Terms.objects.filter(business_id=terms.business_id, is_default=True).update(is_default=False)
    Terms.objects.filter(id=terms.pk).update(is_default=True)
    _tell(terms, now, by, "made the default")
    tell_followers(terms.business, now)


@transaction.atomic
def archive(terms: Terms, now: datetime, *, by: Actor) -> None:
    """Offer the terms no more. Drafts that had them have the default's, or none; every version stays readable."""
    Terms.objects.filter(id=terms.pk).update(archived=True, is_default=False)
    _tell(terms, now, by, "archived")
    tell_followers(terms.business, now)


def _tell(terms: Terms, now: datetime, by: Actor, act: str) -> None:
    record(terms.business_id, "terms", f"Terms “{terms.name}”", now, by, act)


def _write_version(terms: Terms, number: int, words: str, now: datetime) -> None:
    TermsVersion.objects.create(terms=terms, number=number, key=secrets.token_urlsafe(12), words=words, made_at=now)
