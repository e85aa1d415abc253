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

from cravik.core.documents.offer import write_offer
from cravik.core.documents.standing import read_standing
from cravik.core.offer import Offer
from cravik.core.standing import StandingTerms, with_delivery, with_fee, with_tax
from cravik.links.models import Link
from cravik.setup.defaults import ChangedElsewhere, Subject, documents_of
from cravik.setup.models import Business
from cravik.setup.words import TITLES, WORDS

_PARTS: dict[str, Callable[[Offer, StandingTerms], Offer]] = {
    Subject.FEE: with_fee,
    Subject.TAX: with_tax,
    Subject.DELIVERY: with_delivery,
}


def words_of(subject: str, document: Mapping[str, Any]) -> str:
    """What the document says, in a few words."""
    return WORDS[Subject(subject)](read_standing(document))


_TAKES_PAYMENTS = (Link.State.LIVE, Link.State.PAUSED)
Documents = Mapping[str, Mapping[str, Any]]


def settled(offer: Offer, own: Documents, defaults: Documents) -> Offer:
    """The offer on the terms of Setup, but for what the link decides of its own."""
    for subject, apply in _PARTS.items():
        offer = apply(offer, read_standing(own.get(subject) or defaults[subject]))
    return offer


def follow_defaults(business: Business, now: datetime) -> None:
    """Settle every draft of the business anew. Called in the transaction that changed a default."""
    defaults = documents_of(business)
    for link in Link.objects.of(business):
        settle_draft(link, defaults, now)


def settle_draft(link: Link, defaults: Documents, now: datetime) -> None:
    """Write the draft as its own terms and the defaults have it; a change counts as a save."""
    draft = write_offer(settled(link.offer, link.own, defaults))
    if draft != link.draft:
        link.draft, link.changed_at = draft, now
        link.revision += 1
        link.save(update_fields=["draft", "changed_at", "revision"])


@transaction.atomic
def decide_for_link(
    link: Link, subject: str, document: Mapping[str, Any] | None, seen_revision: int, now: datetime
) -> None:
    """Let the draft have terms of its own on the subject, or the default's again where ``document`` is None.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored.
    """
    fresh = Link.objects.select_related("business").get(id=link.pk)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    own = {name: kept for name, kept in fresh.own.items() if name != subject}
    if document is not None:
        own[subject] = dict(document)
    if own == fresh.own:
        return
    fresh.own, fresh.changed_at = own, now
    fresh.draft = write_offer(settled(fresh.offer, own, documents_of(fresh.business)))
    fresh.revision += 1
    fresh.save(update_fields=["own", "draft", "changed_at", "revision"])


@dataclass(frozen=True)
class FormerTerms:
    """A published link that follows the default of a subject, and shows buyers a former one."""

    link: Link
    brought_up: dict[str, Any]


def links_on_former_terms(business: Business, subject: str) -> list[FormerTerms]:
    """The published links that still show what the default on ``subject`` was."""
    default = read_standing(documents_of(business)[subject])
    found = []
    links = Link.objects.of(business).filter(state__in=_TAKES_PAYMENTS).select_related("edition").order_by("name")
    for link in links:
        edition = link.edition
        if edition is None or subject in link.own:
            continue
        brought_up = write_offer(_PARTS[subject](edition.offer, default))
        if brought_up != edition.offer_document:
            found.append(FormerTerms(link, brought_up))
    return found


@transaction.atomic
def bring_up(business: Business, subject: str, link_ids: Collection[int], now: datetime) -> int:
    """Let the named links show the default of ``subject`` to buyers, and nothing else that is not published.

    Returns how many changed. Who has a page open keeps its terms for as long as they are held.
    """
    changed = 0
    for former in links_on_former_terms(business, subject):
        if former.link.pk not in link_ids:
            continue
        edition = former.link.edition
        assert edition is not None
        former.link.edition = edition.renewed(former.brought_up, edition.words, now)
        former.link.save(update_fields=["edition"])
        changed += 1
    return changed


def published_links_with(business: Business, subject: str) -> tuple[int, int]:
    """How many published links follow the default of ``subject``, and how many have terms of their own."""
    links = list(Link.objects.of(business).filter(state__in=_TAKES_PAYMENTS).values_list("own", flat=True))
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
    documents = documents_of(link.business) | link.own
    return [
        Term(subject, TITLES[subject], words_of(subject, documents[subject]), subject in link.own)
        for subject in (Subject.DELIVERY, Subject.TAX, Subject.FEE)
    ]
