"""Links that sell items of the catalogue.

Name, words, pictures, names of options and stock of an item follow in every such link at once; its price asks
first. Pages read words and pictures from the item itself; names are written into drafts and versions, so that
what was sold is kept as it was.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import partial

from django.db.models import F, Q

from cravik.catalogue.models import Item
from cravik.catalogue.services import ensure_code
from cravik.core.documents.data import LinkData, put
from cravik.core.documents.link import read_link
from cravik.core.documents.offer import write_offer
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.links.finding.found import Sought, found_links, sorted_links
from cravik.links.items.line import line_that_follows, renamed, with_line
from cravik.links.life.from_setup import renew_version, write_draft
from cravik.links.models import Link, SoldItem, Version, items_of_draft
from cravik.links.queries import listed_links
from cravik.people.actors import Actor
from cravik.setup.defaults import Defaults, defaults_of


@dataclass(frozen=True)
class LinkOfItem:
    """A link that sells the item; ``price`` is what its draft asks for it, and whether the item's differs."""

    link: Link
    price: Money | None
    differs: bool


def links_of_item(item: Item) -> list[LinkOfItem]:
    """Every link whose draft sells the item, live ones first."""
    found = []
    sold = SoldItem.objects.filter(item=item, version__isnull=True)
    lines = dict(sold.values_list("link_id", "line"))
    for link in sorted_links(listed_links(found_links(item.business, Sought())), "").filter(id__in=lines):
        price = _fixed_price(link.draft, lines[link.pk])
        found.append(LinkOfItem(link, price, bool(item.price and price and price != item.price)))
    return found


def _fixed_price(draft: LinkData, key: str) -> Money | None:
    price = next((line.get("price") for line in draft["offer"]["lines"] if line["key"] == key), None)
    fixed = price and price.get("kind") == "fixed"
    return Money.parse(price["amount"], draft["offer"]["currency"]) if price and fixed else None


def follow_item(item: Item, now: datetime, by: Actor) -> None:
    """Write the item's names into its links. Buyers see them at once.

    What makes a price, such as the weight, goes into drafts alone. Called in the transaction that changed the item.
    """
    at_present = Q(version__isnull=True) | Q(version=F("link__version"))
    ids = set(SoldItem.objects.filter(at_present, item=item).values_list("link_id", flat=True))
    if not ids:
        return
    sellers = Link.objects.select_for_update(of=("self",)).select_related("version")
    links = list(sellers.prefetch_related("sold_items__item").filter(id__in=ids))
    ensure_code(item, next((code for link in links if (code := _code_in(link, item))), ""))
    defaults = defaults_of(item.business)
    for link in links:
        _follow_in_draft(link, item, now, defaults)
        _follow_in_version(link, item, now, by)


def _code_in(link: Link, item: Item) -> str:
    """The code by which the link's draft names the item."""
    keys = (key for key, each in items_of_draft(link).items() if each.pk == item.pk)
    return next((code for key in keys if (code := link.draft.get("items", {}).get(key))), "")


def _follow_in_draft(link: Link, item: Item, now: datetime, defaults: Defaults) -> None:
    draft = link.draft
    for key, each in items_of_draft(link).items():
        if each.pk == item.pk:
            currency = draft["offer"]["currency"]
            draft = with_line(draft, key, partial(line_that_follows, item=item, currency=currency))
            draft = put(draft, items=draft.get("items", {}) | {key: item.code})
    write_draft(link, draft, defaults, now)


def _follow_in_version(link: Link, item: Item, now: datetime, by: Actor) -> None:
    version = link.version
    if version is None:
        return
    offer = read_link(version.effective["link"]).offer
    shown = offer
    for key, item_id in version.effective["items"].items():
        if item_id == item.pk:
            shown = renamed(shown, key, item)
    if shown != offer:
        seen = version.effective["link"] | {"name": shown.title, "offer": write_offer(shown)}
        document = _renamed_document(version.document, shown)
        renewed = Version(document=document, effective=version.effective | {"link": seen}, cause=Version.Cause.ITEM)
        renew_version(link, version, renewed, now, by)


def _renamed_document(document: LinkData, shown: Offer) -> LinkData:
    """The document that was published, under the names that its offer has now."""
    named = {line["key"]: line for line in write_offer(shown)["lines"]}
    lines = [
        put(line, **{part: named[line["key"]][part] for part in ("name", "choices") if part in named[line["key"]]})
        for line in document["offer"]["lines"]
    ]
    return put(document, offer=put(document["offer"], title=shown.title, lines=lines))


def item_prices(link: Link) -> list[tuple[Item, Money]]:
    """The items whose price differs from what the link's draft asks for them, each with its own."""
    return [
        (item, item.price)
        for key, item in items_of_draft(link).items()
        if item.price is not None and (asked := _fixed_price(link.draft, key)) is not None and asked != item.price
    ]
