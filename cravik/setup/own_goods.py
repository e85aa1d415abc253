"""Something that a business sells: what previews and examples speak of."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.pricing.currency import minor_digits
from cravik.core.pricing.money import Money
from cravik.people.models import Business
from cravik.upkeep.hooks import Hook


@dataclass(frozen=True)
class Good:
    """A thing by its name and what one costs."""

    name: str
    price: Money


#: Asked for the thing of a business that was made last, if it has one.
newest_good: Hook[[Business], Good | None] = Hook("cravik.setup.own_goods.newest_good")


def good_of(business: Business) -> Good:
    """What the business made last; something without a name of its own where it has made nothing yet."""
    found = (good for good in newest_good.call(business) if good)
    return next(found, Good("Your item", Money(24 * 10 ** minor_digits(business.currency), business.currency)))
