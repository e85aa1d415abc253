"""The name by which a seller knows a link, and the readable address at which it answers."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.links.happened import LinkAddressChanged, LinkFound, LinkRenamed, record
from cravik.links.life.lifecycle import locked
from cravik.links.models import Address, Link
from cravik.links.places.naming import MAX_NAME_LENGTH, MAX_SLUG_LENGTH, MAX_SUFFIX_LENGTH, first_free
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.saving import NameTaken


class AddressTaken(Exception):
    """Another link answers at that address, or once did. ``free`` is the nearest that is free."""

    def __init__(self, free: str) -> None:
        super().__init__(f"That address is taken; {free} is free.")
        self.free = free


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
        raise AddressTaken(free_slug(slug))
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


def free_slug(wanted: str) -> str:
    """Those words, or the first like them, at which no link answers or ever did."""
    alike = Address.objects.filter(slug__startswith=wanted[: MAX_SLUG_LENGTH - MAX_SUFFIX_LENGTH])
    return first_free(wanted, set(alike.values_list("slug", flat=True)).__contains__, "-", MAX_SLUG_LENGTH)
