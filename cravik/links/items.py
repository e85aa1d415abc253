"""Links that sell an item of the catalogue.

Name, words and pictures of the item follow in every such link at once; its price asks first. The page reads
the pictures from the item itself; name and words are written into drafts and editions, so that what was sold
is kept as it was.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from django.db import transaction

from cravik.catalogue.models import Item
from cravik.core.documents.offer import write_offer
from cravik.core.money import Money
from cravik.core.offer import Offer
from cravik.core.price import FixedPrice
from cravik.links.models import Edition, Link
from cravik.links.queries import links_of
from cravik.links.services import make_link
from cravik.setup.models import Business


@dataclass(frozen=True)
class LinkOfItem:
    """A link that sells the item; ``price`` is what its draft asks, and whether the item's differs."""

    link: Link
    price: Money | None
    differs: bool


@transaction.atomic
def make_link_of_item(business: Business, item: Item, amount: Money, now: datetime) -> Link:
    """A draft that sells the item for ``amount``."""
    link = make_link(business, item.name, amount, now, item.words)
    link.item = item
    link.save(update_fields=["item"])
    return link


def links_of_item(item: Item) -> list[LinkOfItem]:
    """Every link that sells the item, live ones first."""
    found = []
    for link in links_of(item.business).filter(item=item):
        price = link.offer.lines[0].price
        amount = price.amount if isinstance(price, FixedPrice) else None
        found.append(LinkOfItem(link, amount, bool(item.price and amount and amount != item.price)))
    return found


def follow_item(item: Item, now: datetime) -> None:
    """Write the item's name and words into its links. Buyers see them at once; terms stay as they are.

    Called in the transaction that changed the item.
    """
    for link in Link.objects.select_related("edition").filter(item=item):
        renamed = write_offer(_named(link.offer, item.name))
        if (renamed, item.words) != (link.draft, link.words):
            link.draft, link.words, link.changed_at = renamed, item.words, now
            link.revision += 1
        edition = link.edition
        if edition is not None:
            shown = write_offer(_named(edition.offer, item.name))
            if (shown, item.words) != (edition.offer_document, edition.words):
                link.edition = Edition.objects.create(
                    link=link,
                    number=link.editions.count() + 1,
                    offer_document=shown,
                    words=item.words,
                    published_at=now,
                )
        link.save(update_fields=["draft", "words", "changed_at", "revision", "edition"])


@transaction.atomic
def take_item_price(link: Link, now: datetime) -> None:
    """Put the item's price into the draft of a link that sells it; buyers see it when it is published."""
    fresh = Link.objects.select_related("item", "business").get(id=link.pk)
    price = fresh.item.price if fresh.item else None
    if price is None:
        return
    offer = fresh.offer
    line = replace(offer.lines[0], price=FixedPrice(price))
    fee = fresh.business.fee_in(price.currency)
    fresh.draft = write_offer(replace(offer, currency=price.currency, lines=(line,), fee=fee))
    fresh.revision += 1
    fresh.changed_at = now
    fresh.save(update_fields=["draft", "revision", "changed_at"])


def _named(offer: Offer, name: str) -> Offer:
    return replace(offer, title=name, lines=(replace(offer.lines[0], name=name), *offer.lines[1:]))
