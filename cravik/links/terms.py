"""The terms that a link has from Setup, or of its own.

Each subject of Setup is the default's in a link until the link decides it itself: ``Link.own`` then holds its
document. Drafts are settled anew whenever a default or an own decision changes; what is published follows a
default only link by link, when the seller has seen which.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import QuerySet

from cravik.core.documents.offer import write_offer
from cravik.core.documents.standing import read_standing
from cravik.core.offer import Offer
from cravik.core.standing import StandingTerms, with_delivery, with_fee, with_tax
from cravik.links.models import Edition, Link
from cravik.setup.defaults import ChangedElsewhere, Defaults, Document, Subject, defaults_of
from cravik.setup.models import Business
from cravik.setup.words import TITLES, words_in_link

#: The subjects that are part of the offer, and how each is put into it.
_PARTS: dict[str, Callable[[Offer, StandingTerms], Offer]] = {
    Subject.FEE: with_fee,
    Subject.TAX: with_tax,
    Subject.DELIVERY: with_delivery,
}
#: Those that stand beside it.
_BESIDE = (Subject.LOOK, Subject.CONDITIONS, Subject.CONTACT)
#: In the order of the bench.
_SHOWN = (Subject.DELIVERY, Subject.TAX, Subject.CONDITIONS, Subject.LOOK, Subject.CONTACT, Subject.FEE)
_TAKES_PAYMENTS = (Link.State.LIVE, Link.State.PAUSED)
Own = Mapping[str, Document]


@dataclass(frozen=True)
class Settled:
    """A link's offer with all that Setup adds to it, and what stands beside the offer."""

    offer: Offer
    setting: Document

    @property
    def document(self) -> dict[str, Any]:
        return write_offer(self.offer)


def settled(offer: Offer, own: Own, defaults: Defaults) -> Settled:
    """The offer on the terms of Setup, but for what the link decides of its own."""
    for subject, apply in _PARTS.items():
        offer = apply(offer, read_standing(defaults.held(subject, own)))
    held = {str(subject): defaults.held(subject, own) for subject in _BESIDE}
    return Settled(offer, {subject: document for subject, document in held.items() if document})


def follow_defaults(business: Business, now: datetime) -> None:
    """Settle every draft of the business anew. Called in the transaction that changed a default."""
    defaults = defaults_of(business)
    for link in Link.objects.of(business):
        write_draft(link, link.offer, link.words, defaults, now)


def write_draft(link: Link, offer: Offer, words: str, defaults: Defaults, now: datetime) -> None:
    """Settle the offer and keep it as the draft, with the words. A change counts as a save."""
    terms = settled(offer, link.own, defaults)
    if (terms.document, words, terms.setting) != (link.draft, link.words, link.setting):
        link.draft, link.words, link.setting, link.changed_at = terms.document, words, terms.setting, now
        link.revision += 1
        link.save(update_fields=["draft", "words", "setting", "changed_at", "revision"])


@transaction.atomic
def decide_for_link(link: Link, subject: str, document: Document | None, seen_revision: int, now: datetime) -> None:
    """Let the draft have terms of its own on the subject, or the default's again where ``document`` is None.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored.
    """
    fresh = Link.objects.select_related("business").get(id=link.pk)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    own = {name: kept for name, kept in fresh.own.items() if name != subject}
    if document is not None:
        own[subject] = document
    if own == fresh.own:
        return
    terms = settled(fresh.offer, own, defaults_of(fresh.business))
    fresh.own, fresh.draft, fresh.setting, fresh.changed_at = own, terms.document, terms.setting, now
    fresh.revision += 1
    fresh.save(update_fields=["own", "draft", "setting", "changed_at", "revision"])


@dataclass(frozen=True)
class FormerTerms:
    """A published link that shows buyers what Setup said before on a subject, and what in its edition would be
    otherwise."""

    link: Link
    edition: Edition
    changes: dict[str, Any]


def links_on_former_terms(business: Business, subject: str) -> list[FormerTerms]:
    """The published links that still show what the default on ``subject`` was, or what the kit or the terms were
    that they chose."""
    defaults = defaults_of(business)
    found = []
    for link in published_links(business).select_related("edition"):
        follows = subject not in link.own or subject in defaults.chosen
        if link.edition is not None and follows:
            changes = _brought_up(link.edition, subject, defaults.held(subject, link.own))
            if changes:
                found.append(FormerTerms(link, link.edition, changes))
    return found


def _brought_up(edition: Edition, subject: str, held: Document) -> dict[str, Any]:
    """The fields of the edition that differ once it has ``held`` on the subject."""
    if subject in _PARTS:
        offer_document = write_offer(_PARTS[subject](edition.offer, read_standing(held)))
        return {"offer_document": offer_document} if offer_document != edition.offer_document else {}
    setting = {name: kept for name, kept in edition.setting.items() if name != subject}
    if held:
        setting[str(subject)] = held
    return {"setting": setting} if setting != edition.setting else {}


@transaction.atomic
def bring_up(business: Business, subject: str, link_ids: Collection[int], now: datetime) -> int:
    """Let the named links show buyers what Setup says on ``subject``, and nothing else that is not published.

    Returns how many changed. Who has a page open keeps its terms for as long as they are held.
    """
    wanted = [former for former in links_on_former_terms(business, subject) if former.link.pk in link_ids]
    for former in wanted:
        former.link.edition = former.edition.renewed(now, **former.changes)
        former.link.save(update_fields=["edition"])
    return len(wanted)


def published_links(business: Business) -> QuerySet[Link]:
    """Every link that buyers may see a page of, by name."""
    return Link.objects.of(business).filter(state__in=_TAKES_PAYMENTS).order_by("name")


def published_links_with(business: Business, subject: str) -> tuple[int, int]:
    """How many published links follow the default of ``subject``, and how many have terms of their own."""
    links = list(published_links(business).values_list("own", flat=True))
    own = sum(subject in each for each in links)
    return len(links) - own, own


@dataclass(frozen=True)
class Term:
    """What a link has of a subject, in words, and whether it decides it itself."""

    subject: str
    title: str
    words: str
    is_own: bool


def terms_of(link: Link) -> list[Term]:
    """What the link's draft has of every subject."""
    defaults = defaults_of(link.business)
    terms = []
    for subject in _SHOWN:
        words = words_in_link(link.business, subject, link.own, defaults)
        if subject == Subject.DELIVERY:
            words = _delivery_in(link.offer, read_standing(defaults.held(subject, link.own)), words)
        terms.append(Term(subject, TITLES[subject], words, subject in link.own))
    return terms


def _delivery_in(offer: Offer, terms: StandingTerms, words: str) -> str:
    """What is decided on delivery, and why nothing of it is charged in the offer, if so."""
    if not any(line.ships for line in offer.lines):
        return "nothing of it is sent"
    if terms.delivery and not terms.delivery_in(offer.currency):
        return f"nothing is charged: the zones are in {terms.currency}"
    return words
