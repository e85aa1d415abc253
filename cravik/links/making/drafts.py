"""A new draft: with a unique name, a readable address, a first spot. What else a draft may begin from is beside this
file."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db import transaction

from cravik.core.documents.data import LinkData
from cravik.core.documents.link import write_link
from cravik.core.link.content import SUBJECTS, LinkContent, PageContent
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import simple_offer
from cravik.links.finding.labels import keep_labels
from cravik.links.happened import LinkMade, record
from cravik.links.life.from_setup import effective_of
from cravik.links.models import Address, Link, LinkTally, SoldItem
from cravik.links.places.addresses import free_name, free_slug
from cravik.links.places.naming import slug_from
from cravik.links.places.spots import make_first_spot
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import defaults_of


@transaction.atomic
def make_link(business: Business, purpose: str, amount: Money, now: datetime, words: str = "", *, by: Actor) -> Link:
    """A draft with a unique name and a readable address, from a purpose and an amount. It follows Setup in all."""
    name = free_name(business, purpose)
    content = LinkContent(name, simple_offer(purpose, amount), follows=SUBJECTS, page=PageContent(words=words))
    return keep_new_link(business, write_link(content), {}, now, by=by)


def keep_new_link(
    business: Business,
    draft: LinkData,
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
    Address.objects.create(link=link, slug=free_slug(slug_from(link.title)))
    make_first_spot(link, now)
    record(LinkMade(copied_from.name if copied_from else ""), link, now, by)
    return link
