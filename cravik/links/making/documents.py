"""Links from link documents, and back: what the command line does, in words of the application.

A document names items by their codes, a look and terms by their names; they have to be there.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cravik.catalogue.models import Item
from cravik.core.documents.data import LinkData, put
from cravik.core.documents.link import FORMAT as LINK_FORMAT
from cravik.core.documents.link import read_link, write_link
from cravik.core.documents.offer import FORMAT as OFFER_FORMAT
from cravik.core.documents.parts import path
from cravik.core.errors import Fault, InvalidDocument
from cravik.core.link.content import SUBJECTS, LinkContent
from cravik.core.text.faults import fault_words
from cravik.links.life.lifecycle import publish
from cravik.links.making.drafts import keep_new_link
from cravik.links.models import Link
from cravik.links.places.addresses import free_name
from cravik.links.places.naming import MAX_NAME_LENGTH
from cravik.links.refusals import IMPORTING
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import Defaults, defaults_of

MAX_AT_ONCE = 500


@transaction.atomic
def import_link(business: Business, document: object, now: datetime, *, by: Actor, published: bool = False) -> Link:
    """A new link, as the document says; its name is made unique. Published, if that is wanted.

    Raises ``InvalidDocument`` with every fault and its path, and ``NotReady`` where it cannot be published; nothing is
    kept then.
    """
    content, codes = _checked(business, document)
    items = {key: codes[code] for key, code in content.items.items()}
    draft = write_link(replace(content, name=free_name(business, content.name)))
    link = keep_new_link(business, draft, items, now, by=by)
    return publish(link, now, by=by) if published else link


def import_all(business: Business, document: object, now: datetime, *, by: Actor) -> list[Link]:
    """A new draft of each link that the document says: one link, one offer, or a list of such.

    Raises ``InvalidDocument`` with every fault of every one, each with its path, before any is made. Each is made in a
    transaction of its own, so that a long list holds up nobody who pays meanwhile.
    """
    documents = document if isinstance(document, list) else [document]
    if not 0 < len(documents) <= MAX_AT_ONCE:
        fault = Fault("invalid_document", why="not_so_many_links", count=len(documents), most=MAX_AT_ONCE)
        raise InvalidDocument(fault)
    faults, links = [], [_as_link(each) for each in documents]
    for number, each in enumerate(links):
        try:
            _checked(business, each)
        except InvalidDocument as refused:
            at = f"[{number}]" if isinstance(document, list) else ""
            faults += [fault.placed(f"{at}.{fault.at}".strip(".")) for fault in refused.faults]
    if faults:
        raise InvalidDocument(*faults)
    return [import_link(business, each, now, by=by) for each in links]


class FaultInWords(NamedTuple):
    """What is wrong with an imported document, and the path at which it stands, if it is one place."""

    at: str
    words: str

    @property
    def line(self) -> str:
        return f"{self.at}: {self.words}" if self.at else self.words


def in_words(faults: Iterable[Fault]) -> list[FaultInWords]:
    """Each fault of an imported document as people read it."""
    return [FaultInWords(fault.at, fault_words(fault, IMPORTING)) for fault in faults]


def _checked(business: Business, document: object) -> tuple[LinkContent, dict[str, Item]]:
    """What the document says, and the items that it names by their codes. Raises ``InvalidDocument``."""
    content = read_link(document)
    items = {item.code: item for item in Item.objects.of(business).filter(code__in=content.items.values())}
    if faults := [*_missing_items(content, items), *_missing_choices(content, defaults_of(business))]:
        raise InvalidDocument(*faults)
    return content, items


def _as_link(document: object) -> object:
    """An offer as a link that follows Setup in all that the offer does not say; anything else as it is."""
    if not isinstance(document, dict) or document.get("format") != OFFER_FORMAT:
        return document
    follows = [subject for subject in SUBJECTS if subject not in document]
    title = document.get("title")
    name = title[:MAX_NAME_LENGTH] if isinstance(title, str) and title else "Offer"
    return {"format": LINK_FORMAT, "name": name, "offer": document, "follows": follows}


def _missing_items(content: LinkContent, codes: dict[str, Item]) -> Iterator[Fault]:
    for key, code in content.items.items():
        if code not in codes:
            yield Fault("item_unknown", path("items", key), code=code)


def _missing_choices(content: LinkContent, defaults: Defaults) -> Iterator[Fault]:
    if content.page.look and content.page.look not in defaults.looks:
        yield Fault("look_unknown", "page.look", look=content.page.look)
    if content.terms and content.terms not in defaults.terms:
        yield Fault("terms_unknown", "terms", terms=content.terms)


def exported(link: Link, number: int | None = None) -> LinkData | None:
    """The link's draft as a document, or that version of it; None where it has no such version."""
    if number is None:
        return put(link.draft, name=link.name)
    version = link.versions.filter(number=number).first()
    if version is None:
        return None
    document: LinkData = version.document
    return document
