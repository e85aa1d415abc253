"""What a buyer may like to know of a quantity: that a few more make each cheaper, or cost nothing more.

>>> from cravik.core.pricing.price import Break
>>> breaks = (Break(1, Money(1200, "EUR")), Break(10, Money(1050, "EUR")))
>>> quantity_hint(QuantityPrice("all_units", breaks), Quantity(1, 1, None), 8)
'2 more, and each costs €10.50: 10 cost €105.00.'
>>> quantity_hint(PacksPrice(12, Money(600, "EUR")), Quantity(1, 1, None), 9)
'Up to 12 cost the same: they come in packs of 12.'
"""

from __future__ import annotations

from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Quantity
from cravik.core.pricing.price import MAX_IN_BUNDLES, BundlesPrice, PacksPrice, Price, QuantityPrice, Wanted
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money
from cravik.core.text.sentence import price_phrase


def quantity_hint(
    price: Price, bounds: Quantity, quantity: int, add: Money | None = None, locale: str = DEFAULT_LOCALE
) -> str:
    """A sentence on what a somewhat larger quantity costs; empty where there is nothing to say, or no more can be had.

    ``add`` is what the chosen options add to a unit.
    """
    match price:
        case QuantityPrice():
            return _of_next_break(price, bounds, quantity, add, locale)
        case BundlesPrice():
            return _of_one_more(price, bounds, quantity, add, locale)
        case PacksPrice(size=size):
            full = min(price.packs(quantity) * size, bounds.max or price.packs(quantity) * size)
            return f"Up to {full:,} cost the same: they come in packs of {size:,}." if full > quantity else ""
    return ""


def tariff_words(price: Price, locale: str = DEFAULT_LOCALE) -> str:
    """What so many cost, where that is no plain multiple, such as ``€2.00 each, 3 for €5.00``; nothing where it is."""
    return price_phrase(price, locale) if isinstance(price, BundlesPrice | PacksPrice | QuantityPrice) else ""


def _of_one_more(price: BundlesPrice, bounds: Quantity, quantity: int, add: Money | None, locale: str) -> str:
    """What one more piece would cost, or that some more cost less."""
    most = bounds.max or MAX_IN_BUNDLES
    if quantity >= most:
        return ""
    sums = price.sums_up_to(min(most, quantity + price.bundles[-1].count), add)
    now = sums[quantity]
    cheaper = next((more for more in range(quantity + 1, len(sums)) if sums[more] < now), None)
    if cheaper is not None:
        return f"{cheaper:,} cost less than {quantity:,}: {format_money(sums[cheaper], locale)}."
    more = sums[quantity + 1] - now
    costs = f"costs {format_money(more, locale)}" if more else "costs nothing"
    return f"One more {costs}: {quantity + 1:,} are {format_money(sums[quantity + 1], locale)}."


def _of_next_break(price: QuantityPrice, bounds: Quantity, quantity: int, add: Money | None, locale: str) -> str:
    following = next((each for each in price.breaks if each.from_ > quantity), None)
    if following is None or (bounds.max is not None and following.from_ > bounds.max):
        return ""
    unit = following.unit + add if add else following.unit
    if price.method == "incremental":
        return f"From number {following.from_:,} on, each costs {format_money(unit, locale)}."
    now = price.on(Wanted(quantity, add)).amount
    then = price.on(Wanted(following.from_, add)).amount
    more = following.from_ - quantity
    if then < now:
        return f"{following.from_:,} cost less than {quantity:,}: {format_money(then, locale)}."
    if 2 * more > following.from_:  # the break is too far off to be of use
        return ""
    each = f"each costs {format_money(unit, locale)}"
    return f"{more:,} more, and {each}: {following.from_:,} cost {format_money(then, locale)}."
