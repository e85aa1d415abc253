"""A new link by the kind of its price, of an item, and as a copy of one that is there."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.catalogue.models import Item
from cravik.catalogue.services import ensure_code
from cravik.core.documents.data import LineData, LinkData, OfferData, put_or_drop
from cravik.core.documents.link import FORMAT as LINK_FORMAT
from cravik.core.documents.offer import FORMAT as OFFER_FORMAT
from cravik.core.link.content import SUBJECTS
from cravik.core.pricing.money import Money
from cravik.links.bench.parts.prices import PRICE_PARTS
from cravik.links.items.line import line_of_item, with_line
from cravik.links.life.from_setup import write_draft
from cravik.links.making.drafts import keep_new_link, make_link
from cravik.links.models import Link, SoldItem, items_of_draft
from cravik.links.places.addresses import free_name
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import defaults_of

_KEY = "purpose"


@transaction.atomic
def make_link_of_kind(
    business: Business,
    purpose: str,
    kind: str,
    amount: Money | None,
    currency: str,
    now: datetime,
    item: Item | None = None,
    *,
    by: Actor,
) -> Link:
    """A draft with a price of that kind, begun from the ``amount`` if there is one; it follows Setup in all."""
    part = PRICE_PARTS[kind]
    price = part.begin(amount.major if amount is not None else "")
    line = put_or_drop(LineData(key=_KEY, name=purpose), price=price)
    if part.is_for_many:
        line["quantity"] = {"max": None}
    if item:
        ensure_code(item)
        line = line_of_item(line, item, currency)
    offer: OfferData = {"format": OFFER_FORMAT, "title": line["name"], "currency": currency, "lines": [line]}
    draft: LinkData = {
        "format": LINK_FORMAT,
        "name": free_name(business, purpose),
        "offer": offer,
        "follows": list(SUBJECTS),
    }
    if item:
        draft["items"] = {_KEY: item.code}
    return keep_new_link(business, draft, {_KEY: item} if item else {}, now, by=by)


@transaction.atomic
def copy_link(link: Link, now: datetime, *, by: Actor) -> Link:
    """A draft like the link's, with a name and an address of its own. Its spots, orders and results stay where they
    are."""
    draft = link.draft | {"name": free_name(link.business, link.name)}
    copy = keep_new_link(link.business, draft, items_of_draft(link), now, by=by, copied_from=link)
    copy.former_prices, copy.what_if = link.former_prices, link.what_if
    copy.save(update_fields=["former_prices", "what_if"])
    return copy


@transaction.atomic
def make_link_of_item(business: Business, item: Item, amount: Money, now: datetime, *, by: Actor) -> Link:
    """A draft that sells the item for ``amount``. Raises ``PriceTooLow``."""
    ensure_code(item)
    link = make_link(business, item.name, amount, now, by=by)
    key = link.draft["offer"]["lines"][0]["key"]
    SoldItem.objects.create(link=link, line=key, item=item)
    draft = with_line(link.draft, key, lambda line: line_of_item(line, item, amount.currency))
    revision = link.revision
    write_draft(link, draft | {"items": {key: item.code}}, defaults_of(business), now)
    link.revision = revision  # nobody has seen the draft without the item
    link.save(update_fields=["revision"])
    return link
