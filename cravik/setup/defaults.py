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

from cravik.core.documents.standing import read_standing, write_standing
from cravik.core.pricing.standing import StandingTerms, usual_terms
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import tell
from cravik.setup.models import Conditions, Default, Kit
from cravik.setup.saving import ChangedElsewhere
from cravik.upkeep.hooks import Hook

Document = dict[str, Any]
Subject = Default.Subject


@dataclass(frozen=True)
class Decision:
    """What holds of a subject: its document, how often it was saved, and whether anybody decided it."""

    document: Document
    revision: int = 0

    @property
    def is_made(self) -> bool:
        return self.revision > 0

    @property
    def terms(self) -> StandingTerms:
        return read_standing(self.document)


#: What is decided by one document each.
DECIDED = (Subject.FEE, Subject.TAX, Subject.DELIVERY)


def decisions_of(business: Business) -> dict[str, Decision]:
    """What holds of each subject that is decided by one document."""
    usual = {
        Subject.FEE: write_standing(usual_terms(business.currency)),
        Subject.TAX: {"currency": business.currency},
        Subject.DELIVERY: {"currency": business.currency},
    }
    made = {each.subject: Decision(each.document, each.revision) for each in Default.objects.filter(business=business)}
    return {subject: made.get(subject, Decision(document)) for subject, document in usual.items()}


@dataclass(frozen=True)
class Defaults:
    """What holds in a business by subject, and the kits and terms that a link may choose by their names instead."""

    documents: Mapping[str, Document]
    looks: Mapping[str, Document]
    terms: Mapping[str, Document]
    look_ids: Mapping[str, int]
    terms_ids: Mapping[str, int]

    @property
    def usual_look_id(self) -> int:
        """The default kit's; 0 for the product's own look."""
        usual = self.documents[Subject.LOOK]
        return next((pk for name, pk in self.look_ids.items() if self.looks[name] is usual), 0)  # alike are many

    @property
    def usual_terms_id(self) -> int:
        """Those of the default terms; 0 for none."""
        return self.terms_ids.get(self.documents[Subject.CONDITIONS].get("name", ""), 0)

    def look_named(self, name: str | None) -> Document:
        """The kit of that name; the product's own look for none."""
        return self.looks.get(name, {}) if name else {}

    def terms_named(self, name: str | None) -> Document:
        """The terms of that name; nothing to agree to for none."""
        return self.terms.get(name, {}) if name else {}


@dataclass(frozen=True)
class Renamed:
    """That a kit or terms have another name from now on."""

    subject: str
    former: str
    present: str


#: Called in the transaction that changed something in Setup.
default_changed: Hook[[Business, datetime, Renamed | None], None] = Hook("default changed")


def defaults_of(business: Business) -> Defaults:
    """Everything that holds in the business."""
    kits = list(Kit.objects.filter(business=business))
    look: Document = next((kit.document for kit in kits if kit.is_default), {})
    terms = list(Conditions.objects.filter(business=business, put_away=False).prefetch_related("versions"))
    conditions = next((_conditions_document(each) for each in terms if each.is_default), {})
    decided = {subject: decision.document for subject, decision in decisions_of(business).items()}
    return Defaults(
        {**decided, Subject.LOOK: look, Subject.CONDITIONS: conditions, Subject.CONTACT: {}},
        looks={kit.name: kit.document for kit in kits},
        terms={each.name: _conditions_document(each) for each in terms},
        look_ids={kit.name: kit.pk for kit in kits},
        terms_ids={each.name: each.pk for each in terms},
    )


def _conditions_document(terms: Conditions) -> Document:
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
        tell(business.pk, subject, Subject(subject).label, now, by, "decided")
    elif there.document != document:
        there.document, there.changed_at = dict(document), now
        there.revision += 1
        there.save()
        tell(business.pk, subject, Subject(subject).label, now, by)
    tell_followers(business, now)


def tell_followers(business: Business, now: datetime, renamed: Renamed | None = None) -> None:
    """Let those who use defaults write down what changed, in the transaction that is under way."""
    default_changed.run(business, now, renamed)
