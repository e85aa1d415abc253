"""What a link has from Setup, or of its own.

A subject that the draft follows is Setup's; any other is the draft's own, and stands in its document. Drafts are
worked out again whenever a default or an own decision changes; what is published follows a default only link by
link, when the seller has seen which.
"""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import QuerySet

from cravik.core.documents.data import ContactData, DefaultData, EffectiveData, LinkData, put, put_or_drop, without
from cravik.core.documents.defaults import read_defaults, write_defaults
from cravik.core.documents.link import read_link, write_link
from cravik.core.documents.link_draft import complete
from cravik.core.documents.offer import write_offer
from cravik.core.link.content import SUBJECTS, LinkContent
from cravik.core.pricing.defaults import OfferDefaults, with_delivery, with_fee, with_tax
from cravik.core.pricing.offer import Offer
from cravik.links.finding.labels import keep_labels
from cravik.links.happened import LinkPublished, record
from cravik.links.models import Link, Version, items_of_draft
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import Defaults, Renamed, Subject, defaults_of
from cravik.setup.ways import CARD, OFFERED_WAYS
from cravik.setup.words import words_of_charges, words_of_choice

#: The subjects that are part of the offer, and how each is put into it.
_PARTS: dict[str, Callable[[Offer, OfferDefaults], Offer]] = {
    OFFERED_WAYS[CARD].fee: with_fee,
    Subject.TAX: with_tax,
    Subject.DELIVERY: with_delivery,
}
_TAKES_PAYMENTS = (Link.State.LIVE, Link.State.PAUSED)
#: What Setup calls a subject that documents call otherwise.
_NAMES = {Subject.TERMS: "terms"}


def name_in_document(subject: str) -> str:
    """What a link document calls the subject of Setup."""
    return _NAMES.get(Subject(subject), str(subject))


def follows(link: Link, subject: str) -> bool:
    """Whether the link's draft has what Setup says on the subject."""
    return name_in_document(subject) in link.follows


def effective_of(draft: LinkData, items: dict[str, int], defaults: Defaults) -> EffectiveData | None:
    """All that buyers see and pay by of the draft, or None while something is missing. See ``Version``."""
    content = complete(draft)
    if content is None:
        return None
    offer = content.offer
    for subject, apply in _PARTS.items():
        if subject in content.follows:
            offer = apply(offer, read_defaults(defaults.documents[subject]))
    look, terms, contact = beside(content, defaults)
    seen = replace(
        content,
        name=offer.title,
        offer=offer,
        follows=(),
        labels=(),
        items={},
        terms=None,
        contact=None,
        page=replace(content.page, look=None),
    )
    sold = {line: item for line, item in items.items() if offer.line(line)}
    return EffectiveData(link=write_link(seen), look=look, conditions=terms, contact=contact, items=sold)


def beside(content: LinkContent, defaults: Defaults) -> tuple[DefaultData, DefaultData, ContactData]:
    """The look, the terms and the contact that hold for the link; an empty one is the product's own, none, or the
    business's."""
    look = defaults.documents[Subject.LOOK] if "look" in content.follows else defaults.look_named(content.page.look)
    terms = defaults.documents[Subject.TERMS] if "terms" in content.follows else defaults.terms_named(content.terms)
    own = content.contact if "contact" not in content.follows else None
    named: ContactData = {}
    if own:
        named = put_or_drop(named, support_email=own.support_email, statement_text=own.statement_text)
    return look, terms, named


def write_draft(link: Link, draft: LinkData, defaults: Defaults, now: datetime) -> None:
    """Keep ``draft`` as the link's, worked out with what it follows. A change counts as a save."""
    items = {line: item.pk for line, item in items_of_draft(link).items()}
    effective = effective_of(draft, items, defaults)
    if (draft, effective) != (link.draft, link.effective):
        link.draft, link.effective, link.changed_at = draft, effective, now
        link.revision += 1
        link.is_changed = link.has_unpublished_changes
        link.save(update_fields=["draft", "effective", "changed_at", "revision", "is_changed"])
        keep_labels(link)


def follow_defaults(business: Business, now: datetime, renamed: Renamed | None = None) -> None:
    """Work out every draft of the business again. Called in the transaction that changed a default.

    A link that chose a look or terms goes on by its new name; where what it chose is gone, it follows Setup again.
    """
    defaults = defaults_of(business)
    for link in Link.objects.of(business).select_for_update().prefetch_related("sold_items__item"):
        write_draft(link, still_there(link.draft, defaults, renamed), defaults, now)


def still_there(draft: LinkData, defaults: Defaults, renamed: Renamed | None = None) -> LinkData:
    """The draft with the look and the terms that it chose, as far as they are still there."""
    look, terms = draft.get("page", {}).get("look"), draft.get("terms")
    if renamed and renamed.subject == Subject.LOOK and look == renamed.former:
        look = renamed.present
    if renamed and renamed.subject == Subject.TERMS and terms == renamed.former:
        terms = renamed.present
    if look is not None:
        draft = put_own(draft, Subject.LOOK, look if look in defaults.looks else None)
    if terms is not None:
        draft = put_own(draft, Subject.TERMS, terms if terms in defaults.terms else None)
    return draft


def put_own(draft: LinkData, subject: str, own: Any) -> LinkData:
    """The draft with ``own`` on the subject, as a link document has it; None: it follows Setup."""
    follows = [each for each in SUBJECTS if each in draft.get("follows", ())]
    name = name_in_document(subject)
    changed = without_own(draft, subject)
    if own is None:
        return put(changed, follows=[each for each in SUBJECTS if each in (*follows, name)])
    changed["follows"] = [each for each in follows if each != name]
    match subject:
        case Subject.LOOK:
            return put(changed, page=put_or_drop(changed.get("page", {}), look=own))
        case Subject.TERMS:
            return put_or_drop(changed, terms=own)
        case Subject.CONTACT:
            return put_or_drop(changed, contact=own)
        case _:
            return put(changed, offer=put_or_drop(changed["offer"], **{name: own}))


def without_own(draft: LinkData, subject: str) -> LinkData:
    """The draft with nothing of its own on the subject."""
    name = name_in_document(subject)
    match subject:
        case Subject.LOOK:
            return put_or_drop(draft, page=without(draft.get("page", {}), "look"))
        case Subject.TERMS | Subject.CONTACT:
            return without(draft, name)
        case _:
            return put(draft, offer=without(draft["offer"], name))


def sheet_document(link: Link, subject: str, defaults: Defaults) -> DefaultData:
    """What the link's draft has on the subject, as the sheet of Setup shows it; what it follows, where it follows."""
    draft, is_followed = link.draft, follows(link, subject)
    match subject:
        case Subject.LOOK if is_followed:
            return {"id": defaults.usual_look_id}
        case Subject.TERMS if is_followed:
            return {"id": defaults.usual_terms_id}
        case _ if is_followed:
            return defaults.documents[subject]
        case Subject.LOOK:
            return {"id": defaults.look_ids.get(draft.get("page", {}).get("look", ""), 0)}
        case Subject.TERMS:
            return {"id": defaults.terms_ids.get(draft.get("terms", ""), 0)}
        case Subject.CONTACT:
            return dict(draft.get("contact") or {})
        case _:
            own = draft["offer"].get(subject)
            return {"currency": draft["offer"]["currency"]} | ({str(subject): own} if own else {})


def own_of_sheet(subject: str, decision: DefaultData, currency: str, defaults: Defaults) -> Any:
    """What a sheet of Setup says, as a link document has it; an empty one is a decision for nothing."""
    match subject:
        case Subject.LOOK:
            return next((name for name, pk in defaults.look_ids.items() if pk == decision["id"]), "")
        case Subject.TERMS:
            return next((name for name, pk in defaults.terms_ids.items() if pk == decision["id"]), "")
        case Subject.CONTACT:
            return decision
        case _:
            own = read_defaults(decision)
            inside = OfferDefaults(currency, own.fee_in(currency), own.tax, own.delivery_in(currency))
            return write_defaults(inside).get(subject, {})


@dataclass(frozen=True)
class FormerTerms:
    """A published link that shows buyers what Setup said before on a subject, and what its version would hold
    otherwise."""

    link: Link
    version: Version
    effective: EffectiveData


def links_on_former_terms(business: Business, subject: str) -> list[FormerTerms]:
    """The published links that still show what the default on ``subject`` was, or what the look or the terms were
    that they chose."""
    defaults = defaults_of(business)
    found = []
    for link in published_links(business).select_related("version"):
        if link.version is not None and (effective := _renewed(link, link.version, subject, defaults)):
            found.append(FormerTerms(link, link.version, effective))
    return found


def _renewed(link: Link, version: Version, subject: str, defaults: Defaults) -> EffectiveData | None:
    """What the version would hold with what Setup says on the subject now, or None where nothing differs."""
    if subject in _PARTS:
        if str(subject) not in link.follows:
            return None
        seen = read_link(version.effective["link"])
        offer = _PARTS[subject](seen.offer, read_defaults(defaults.documents[subject]))
        changed = version.effective | {"link": version.effective["link"] | {"offer": write_offer(offer)}}
    else:
        part = {Subject.LOOK: 0, Subject.TERMS: 1}.get(Subject(subject))
        content = complete(link.draft)
        if part is None or content is None:
            return None
        changed = version.effective | {str(subject): beside(content, defaults)[part]}
    return changed if changed != version.effective else None


@transaction.atomic
def republish(business: Business, subject: str, link_ids: Collection[int], now: datetime, *, by: Actor) -> int:
    """Let the named links show buyers what Setup says on ``subject``, and nothing else that is not published.

    Returns how many changed. Anyone who has a page open keeps its version for as long as its price is promised.
    """
    list(published_links(business).select_for_update().values_list("id"))  # locks them
    wanted = [former for former in links_on_former_terms(business, subject) if former.link.pk in link_ids]
    for former in wanted:
        document = former.version.document
        renewed = Version(document=document, effective=former.effective, cause=Version.Cause.SETUP)
        renew_version(former.link, former.version, renewed, now, by)
    return len(wanted)


def renew_version(link: Link, version: Version, renewed: Version, now: datetime, by: Actor) -> None:
    """Let buyers see ``renewed``, the link's next version, which is like its present one but for what was changed."""
    renewed.link, renewed.number, renewed.published_at = link, next_number(link), now
    renewed.published_by_id = by.user_id
    renewed.save(force_insert=True)
    record(LinkPublished(renewed.number), link, now, by)
    copy_items(version, renewed)
    link.version = renewed
    link.is_changed = link.has_unpublished_changes
    Link.objects.filter(id=link.pk).update(version=renewed, is_changed=link.is_changed)


def copy_items(version: Version, renewed: Version) -> None:
    for sold in version.sold_items.all():
        sold.pk, sold.version = None, renewed
        sold.save()


def next_number(link: Link) -> int:
    """Of the link's next version; the caller holds the link's lock."""
    return Version.objects.filter(link=link, number__isnull=False).count() + 1


def published_links(business: Business) -> QuerySet[Link]:
    """Every link that buyers may see a page of, by name."""
    return Link.objects.of(business).filter(state__in=_TAKES_PAYMENTS).order_by("name")


def published_links_with(business: Business, subject: str) -> tuple[int, int]:
    """How many published links follow the default of ``subject``, and how many have settings of their own."""
    links = list(published_links(business))
    following = sum(follows(link, subject) for link in links)
    return following, len(links) - following


def words_of_setting(link: Link, subject: str, defaults: Defaults) -> str:
    """What the link's draft has of the subject, in words."""
    document = sheet_document(link, subject, defaults)
    if subject in _PARTS:
        words = words_of_charges(subject, read_defaults(document))
        return _delivery_in(link, read_defaults(document), words) if subject == Subject.DELIVERY else words
    own = None if follows(link, subject) else document
    return words_of_choice(link.business, subject, own, defaults)


def _delivery_in(link: Link, defaults: OfferDefaults, words: str) -> str:
    """What is decided on delivery, and why nothing of it is charged in the link, if so."""
    offer = link.draft["offer"]
    if not any(line.get("ships") for line in offer["lines"]):
        return "nothing of it is sent"
    if defaults.delivery and not defaults.delivery_in(offer["currency"]):
        return f"nothing is charged: the zones are in {defaults.currency}"
    return words
