"""Letting a link's draft take the prices of the items that it sells."""

from __future__ import annotations

import copy
from datetime import datetime
from functools import partial

from django.db import transaction

from cravik.core.coded import Coded
from cravik.core.documents.data import LineData, put
from cravik.core.documents.link_draft import in_currency
from cravik.core.pricing.money import Money
from cravik.links.bench.history import remember, state_of
from cravik.links.bench.saving import keep_former_prices
from cravik.links.items.line import line_of_item, with_line
from cravik.links.life.from_setup import write_draft
from cravik.links.life.lifecycle import locked
from cravik.links.models import Link, items_of_draft
from cravik.people.actors import Actor
from cravik.setup.defaults import defaults_of


@transaction.atomic
def take_item_price(link: Link, now: datetime, *, by: Actor) -> None:
    """Put the prices of the items that it sells into the link's draft, as a step that can be undone; buyers see them
    when it is published.

    Raises ``PriceTooLow``.
    """
    fresh = locked(link)
    before, revision, draft = copy.deepcopy(state_of(fresh)), fresh.revision, fresh.draft
    for key, item in items_of_draft(fresh).items():
        price = item.price
        if price is None:
            continue
        draft = in_currency(draft, price.currency).document
        draft = with_line(draft, key, partial(_at_fixed_price, price=price))
        draft = with_line(draft, key, partial(line_of_item, item=item, currency=price.currency))
    if draft["offer"]["currency"] != fresh.draft["offer"]["currency"]:
        keep_former_prices(fresh, {})
    write_draft(fresh, draft, defaults_of(fresh.business), now)
    remember(fresh, before, revision, [Coded("item_price_taken")], now, by=by)


def _at_fixed_price(line: LineData, price: Money) -> LineData:
    return put(line, price={"kind": "fixed", "amount": price.major})
