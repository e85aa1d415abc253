"""Examples of what a seller may say of a new link: of what they sell, and of what many sell."""

from __future__ import annotations

from datetime import datetime

from cravik.catalogue.models import Item
from cravik.core.pricing.price import FixedPrice
from cravik.links.making.from_text import read_lines
from cravik.links.models import Version
from cravik.people.models import Business
from cravik.setup.own_goods import Good

#: For who sells nothing yet.
FIRST_EXAMPLES = ("Repair 24", "48 for a bag in small or large, up to 3", "Candles 12, from 10 pieces 10.50")
OTHER_EXAMPLES = (
    "fund, what you want from 5, suggest 10, 20, 50",
    "600 for a commission in 6 monthly instalments",
    "Workshop: 35 for adult, 20 for child",
    "12 a month for the club",
)


def good_made_last(business: Business) -> Good | None:
    """The item of the catalogue that was made last and has one price, or else what the newest link with one sells."""
    for item in Item.objects.of(business).filter(archived=False).order_by("-id")[:20]:
        if item.price is not None:
            return Good(item.name, item.price)
    published = Version.objects.filter(link__business=business, link__removed_at=None).order_by("-id")[:20]
    for line in (version.offer.lines[0] for version in published):
        if isinstance(line.price, FixedPrice):
            return Good(line.name, line.price.amount)
    return None


def examples_for(business: Business, now: datetime) -> tuple[str, ...]:
    """Lines that are understood as they stand."""
    good = good_made_last(business)
    if good is None or good.price.currency != business.currency:
        return (*FIRST_EXAMPLES, *OTHER_EXAMPLES)
    name, price = good.name, good.price.major
    own = (f"{name} {price}", f"{price} for {name}, up to 3", f"{name} {price}, 12 places")
    texts = [each.text for line in own for each in read_lines(business, line, now) if each.is_understood]
    return (*(texts or FIRST_EXAMPLES), *OTHER_EXAMPLES)
