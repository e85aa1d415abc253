"""Making links, and their names and addresses. What is changed on the bench is kept by ``bench.saving``, what becomes
of a link by ``lifecycle``."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db import transaction

from cravik.core.documents.link import write_link
from cravik.core.link.content import SUBJECTS, LinkContent, PageContent
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import simple_offer
from cravik.links.from_setup import effective_of
from cravik.links.happened import LinkAddressChanged, LinkFound, LinkMade, LinkRenamed, record
from cravik.links.labels import keep_labels
from cravik.links.lifecycle import locked
from cravik.links.models import Address, Link, LinkTally, SoldItem
from cravik.links.naming import MAX_NAME_LENGTH, MAX_SLUG_LENGTH, MAX_SUFFIX_LENGTH, first_free, slug_from
from cravik.links.spots import make_first_spot
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import defaults_of
from cravik.setup.saving import NameTaken

Document = dict[str, Any]


class AddressTaken(Exception):
    """Another link answers at that address, or once did. ``free`` is the nearest that is free."""

    def __init__(self, free: str) -> None:
        super().__init__(f"That address is taken; {free} is free.")
        self.free = free


@transaction.atomic
def make_link(business: Business, purpose: str, amount: Money, now: datetime, words: str = "", *, by: Actor) -> Link:
    """A draft with a unique name and a readable address, from a purpose and an amount. It follows Setup in all."""
    name = free_name(business, purpose)
    content = LinkContent(name, simple_offer(purpose, amount), follows=SUBJECTS, page=PageContent(words=words))
    return keep_new_link(business, write_link(content), {}, now, by=by)


def keep_new_link(
    business: Business,
    draft: Document,
    items: Mapping[str, Any],
    now: datetime,
    *,
    by: Actor,
    copied_from: Link | None = None,
) -> Link:
    """A new link with that draft, its items by line, its address and its first spot. In the transaction under way."""
    effective = effective_of(draft, {line: item.pk for line, item in items.items()}, defaults_of(business))
    link = Link.objects.create(
        business=business,
        name=draft["name"],
        draft=draft,
        effective=effective,
        made_at=now,
        changed_at=now,
        state_since=now,
        copied_from=copied_from,
    )
    SoldItem.objects.bulk_create(SoldItem(link=link, line=line, item=item) for line, item in items.items())
    keep_labels(link)
    LinkTally.objects.create(link=link)
    Address.objects.create(link=link, slug=_free_slug(slug_from(link.title)))
    make_first_spot(link, now)
    record(LinkMade(copied_from.name if copied_from else ""), link, now, by)
    return link


@transaction.atomic
def rename(link: Link, name: str, now: datetime, *, by: Actor) -> None:
    """Give the link another name, for the seller's eyes. Raises ``NameTaken``."""
    fresh = locked(link)
    if Link.objects.of(link.business).filter(name=name).exclude(id=link.id).exists():
        raise NameTaken(free_name(link.business, name))
    Link.objects.filter(id=link.id).update(name=name, draft=fresh.draft | {"name": name})
    if name != fresh.name:
        record(LinkRenamed(name, fresh.name), fresh, now, by)


@transaction.atomic
def change_address(link: Link, slug: str, now: datetime, *, by: Actor) -> None:
    """Let the link answer at ``slug``, and go on answering where it did. Raises ``AddressTaken``."""
    locked(link)
    holder = Address.objects.filter(slug=slug).first()
    if holder and holder.link_id != link.id:
        raise AddressTaken(_free_slug(slug))
    changed = Address.objects.filter(link=link, current=True).exclude(slug=slug).update(current=False)
    Address.objects.update_or_create(slug=slug, defaults={"link": link, "current": True})
    if changed:
        record(LinkAddressChanged(slug), link, now, by)


@transaction.atomic
def let_be_found(link: Link, now: datetime, *, is_findable: bool, by: Actor) -> None:
    """Let search engines find the link's pages, or ask them to stay away."""
    if Link.objects.filter(id=link.pk).exclude(is_findable=is_findable).update(is_findable=is_findable):
        record(LinkFound(is_findable), link, now, by)


def free_name(business: Business, wanted: str) -> str:
    """The name, or the first like it that no other link of the business has."""
    # Those that begin alike are looked up once: a hundred links of one name ask no more than the first.
    alike = Link.objects.of(business).filter(name__startswith=wanted[: MAX_NAME_LENGTH - MAX_SUFFIX_LENGTH])
    return first_free(wanted, set(alike.values_list("name", flat=True)).__contains__, " ", MAX_NAME_LENGTH)


def _free_slug(wanted: str) -> str:
    alike = Address.objects.filter(slug__startswith=wanted[: MAX_SLUG_LENGTH - MAX_SUFFIX_LENGTH])
    return first_free(wanted, set(alike.values_list("slug", flat=True)).__contains__, "-", MAX_SLUG_LENGTH)
