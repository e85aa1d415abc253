"""Defaults: what is decided once, for every link that decides nothing of its own.

A changed default reaches drafts at once, through whoever hangs onto ``default_changed``, and live links when the
seller says so, having seen which.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from cravik.core.documents.data import DefaultData
from cravik.core.documents.defaults import read_defaults, write_defaults
from cravik.core.pricing.defaults import OfferDefaults, usual_defaults
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import record
from cravik.setup.models import Default, Look, Terms
from cravik.setup.saving import ChangedElsewhere
from cravik.upkeep.hooks import Hook

Subject = Default.Subject


@dataclass(frozen=True)
class Decision:
    """What holds of a subject: its document, how often it was saved, and whether anybody decided it."""

    document: DefaultData
    revision: int = 0

    @property
    def is_made(self) -> bool:
        return self.revision > 0

    @property
    def defaults(self) -> OfferDefaults:
        return read_defaults(self.document)


#: What is decided by one document each.
DECIDED = (Subject.FEE, Subject.TAX, Subject.DELIVERY)


def decisions_of(business: Business) -> dict[str, Decision]:
    """What holds of each subject that is decided by one document."""
    usual = {
        Subject.FEE: write_defaults(usual_defaults(business.currency)),
        Subject.TAX: {"currency": business.currency},
        Subject.DELIVERY: {"currency": business.currency},
    }
    made = {each.subject: Decision(each.document, each.revision) for each in Default.objects.filter(business=business)}
    return {subject: made.get(subject, Decision(document)) for subject, document in usual.items()}


@dataclass(frozen=True)
class Defaults:
    """What holds in a business by subject, and the looks and terms that a link may choose by their names instead."""

    documents: Mapping[str, DefaultData]
    looks: Mapping[str, DefaultData]
    terms: Mapping[str, DefaultData]
    look_ids: Mapping[str, int]
    terms_ids: Mapping[str, int]

    @property
    def usual_look_id(self) -> int:
        """The default look's; 0 for the product's own look."""
        usual = self.documents[Subject.LOOK]
        return next((pk for name, pk in self.look_ids.items() if self.looks[name] is usual), 0)  # alike are many

    @property
    def usual_terms_id(self) -> int:
        """Those of the default terms; 0 for none."""
        return self.terms_ids.get(self.documents[Subject.TERMS].get("name", ""), 0)

    def look_named(self, name: str | None) -> DefaultData:
        """The look of that name; the product's own look for none."""
        return self.looks.get(name, {}) if name else {}

    def terms_named(self, name: str | None) -> DefaultData:
        """The terms of that name; nothing to agree to for none."""
        return self.terms.get(name, {}) if name else {}


@dataclass(frozen=True)
class Renamed:
    """That a look or terms have another name from now on."""

    subject: str
    former: str
    present: str


#: Called in the transaction that changed something in Setup.
default_changed: Hook[[Business, datetime, Renamed | None], None] = Hook("cravik.setup.defaults.default_changed")


def defaults_of(business: Business) -> Defaults:
    """Everything that holds in the business."""
    looks = list(Look.objects.filter(business=business))
    look: DefaultData = next((look.document for look in looks if look.is_default), {})
    terms = list(Terms.objects.filter(business=business, archived=False).prefetch_related("versions"))
    default_terms = next((_terms_document(each) for each in terms if each.is_default), {})
    decided = {subject: decision.document for subject, decision in decisions_of(business).items()}
    return Defaults(
        {**decided, Subject.LOOK: look, Subject.TERMS: default_terms, Subject.CONTACT: {}},
        looks={look.name: look.document for look in looks},
        terms={each.name: _terms_document(each) for each in terms},
        look_ids={look.name: look.pk for look in looks},
        terms_ids={each.name: each.pk for each in terms},
    )


def _terms_document(terms: Terms) -> DefaultData:
    version = terms.version
    return {"version": version.pk, "key": version.key, "name": terms.name, "number": version.number}


@transaction.atomic
def decide(
    business: Business, subject: str, document: Mapping[str, Any], seen_revision: int, now: datetime, *, by: Actor
) -> None:
    """Make ``document`` the default, and tell those who follow it. Raises ``ChangedElsewhere``."""
    there = Default.objects.filter(business=business, subject=subject).first()
    if (there.revision if there else 0) != seen_revision:
        raise ChangedElsewhere
    if there is None:
        Default.objects.create(business=business, subject=subject, document=dict(document), changed_at=now)
        record(business.pk, subject, Subject(subject).label, now, by, "decided")
    elif there.document != document:
        there.document, there.changed_at = dict(document), now
        there.revision += 1
        there.save()
        record(business.pk, subject, Subject(subject).label, now, by)
    tell_followers(business, now)


def tell_followers(business: Business, now: datetime, renamed: Renamed | None = None) -> None:
    """Let those who use defaults write down what changed, in the transaction that is under way."""
    default_changed.run(business, now, renamed)
