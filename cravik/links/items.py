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
from cravik.core.options import Choice, Option, least_adds
from cravik.core.price import FixedPrice
from cravik.links.models import Link
from cravik.links.queries import links_of
from cravik.links.services import make_link, write_draft
from cravik.links.terms import settled
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
    """A draft that sells the item for ``amount``."""
    link = make_link(business, item.name, amount, now, item.words)
    link.item = item
    link.draft = settled(_sold(link.offer, item), link.own, defaults_of(business)).document
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
    for link in Link.objects.select_related("edition", "business").filter(item=item):
        write_draft(link, _sold(link.offer, item), item.words, now)
        edition = link.edition
        if edition is not None:
            shown = write_offer(_named(edition.offer, item.name))
            if (shown, item.words) != (edition.offer_document, edition.words):
                link.edition = edition.renewed(now, offer_document=shown, words=item.words)
                link.save(update_fields=["edition"])


@transaction.atomic
def take_item_price(link: Link, now: datetime) -> None:
    """Put the item's price into the draft of a link that sells it; buyers see it when it is published."""
    fresh = Link.objects.select_related("item", "business").get(id=link.pk)
    price = fresh.item.price if fresh.item else None
    if price is None:
        return
    offer = fresh.offer
    line = replace(offer.lines[0], price=FixedPrice(price), choices=())
    priced = replace(offer, currency=price.currency, lines=(line,))
    write_draft(fresh, _sold(priced, fresh.item) if fresh.item else priced, fresh.words, now)


def _named(offer: Offer, name: str) -> Offer:
    return replace(offer, title=name, lines=(replace(offer.lines[0], name=name), *offer.lines[1:]))


def _sold(offer: Offer, item: Item) -> Offer:
    """The offer with all that its line has from the item: whether it is sent, its weight, how it is taxed."""
    ships = item.kind == Item.Kind.GOODS
    line = replace(
        offer.lines[0],
        name=item.name,
        sku=item.code or None,
        ships=ships,
        weight_g=item.weight_g if ships else 0,
        tax_category=item.tax_category,
        choices=_choices_of(item, offer),
    )
    return replace(offer, title=item.name, lines=(line, *offer.lines[1:]))


def _choices_of(item: Item, offer: Offer) -> tuple[Choice, ...]:
    """The item's groups of options, as the offer can have them.

    In another currency, or where a choice would cost nothing or less at the offer's price, it keeps those it has.
    """
    price = offer.lines[0].price
    choices = tuple(
        Choice(
            group.name,
            tuple(
                Option(option.name, option.add if option.add_minor else None, option.weight_g)
                for option in group.options.all()
            ),
        )
        for group in item.choices.prefetch_related("options")
        if group.options.all()
    )
    too_low = isinstance(price, FixedPrice) and price.amount.minor + least_adds(choices) <= 0
    return offer.lines[0].choices if item.currency != offer.currency or too_low else choices
