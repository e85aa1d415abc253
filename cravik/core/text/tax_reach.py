"""What of a sale each rate of tax reaches, in words.

>>> from cravik.core.pricing.percent import Percent
>>> post = TaxRate("IE", "VAT", Percent.parse("13.5"), categories=("delivery",))
>>> reach_words(post, (post,))
'delivery'
"""

from __future__ import annotations

from collections.abc import Sequence

from cravik.core.english import listed
from cravik.core.pricing.tax import DELIVERY, STANDARD, Place, TaxRate, rates_for, rates_of


def reach_words(rate: TaxRate, rates: Sequence[TaxRate]) -> str:
    """What the rate is charged on, among all ``rates``: the same words as the sums are worked out by."""
    goods = [each for each in rate.categories if each != DELIVERY]
    reached = []
    if goods:
        which = "category" if len(goods) == 1 else "categories"
        reached.append(f"items of the {which} {listed(goods, 'and')}")
    if STANDARD in goods:
        reached.append("tips and amounts that buyers choose (unless you give them another category)")
    words = ", ".join(reached)
    there = rates_of(Place(rate.country, rate.region), rates)
    if rate not in rates_for(DELIVERY, there):
        return f"{words}; not delivery, for which another rate of this place is" if _is_named(there) else words
    why = "" if DELIVERY in rate.categories else ", since no rate of this place is for delivery"
    return f"{words}, and delivery{why}" if words else "delivery"


def _is_named(rates: Sequence[TaxRate]) -> bool:
    return any(DELIVERY in rate.categories for rate in rates)
