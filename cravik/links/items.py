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
from cravik.core.price import FixedPrice
from cravik.links.item_line import followed, named, sold
from cravik.links.models import Link
from cravik.links.queries import links_of
from cravik.links.services import make_link
from cravik.links.terms import settled, write_draft
from cravik.setup.defaults import defaults_of
from cravik.setup.models import Business


@dataclass(frozen=True)
class LinkOfItem:
    """A link that sells the item; ``price`` is what its draft asks, and whether the item's differs."""

    link: Link
    price: Money | None
    differs: bool


@transaction.atomic
def make_link_of_item(business: Business, item: Item, amount: Money, now: datetime) -> Link:
    """A draft that sells the item for ``amount``. Raises ``PriceTooLow``."""
    link = make_link(business, item.name, amount, now, item.words)
    link.item = item
    link.draft = settled(sold(link.offer, item), link.own, defaults_of(business)).document
    link.save(update_fields=["item", "draft"])
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
    """Write the item's name and words into its links. Buyers see them at once.

    What makes a price, such as the weight, goes into drafts alone. Called in the transaction that changed the item.
    """
    defaults = defaults_of(item.business)
    for link in Link.objects.select_related("edition").filter(item=item):
        write_draft(link, followed(link.offer, item), item.words, defaults, now)
        edition = link.edition
        if edition is not None:
            shown = write_offer(named(edition.offer, item.name))
            if (shown, item.words) != (edition.offer_document, edition.words):
                link.edition = edition.renewed(now, offer_document=shown, words=item.words)
                link.save(update_fields=["edition"])


@transaction.atomic
def take_item_price(link: Link, now: datetime) -> None:
    """Put the item's price into the draft of a link that sells it; buyers see it when it is published.

    Raises ``PriceTooLow``.
    """
    fresh = Link.objects.select_related("item", "business").get(id=link.pk)
    item = fresh.item
    price = item.price if item else None
    if item is None or price is None:
        return
    offer = fresh.offer
    line = replace(offer.lines[0], price=FixedPrice(price), choices=())
    priced = sold(replace(offer, currency=price.currency, lines=(line,), fee=None, delivery=None), item)
    write_draft(fresh, priced, fresh.words, defaults_of(fresh.business), now)
