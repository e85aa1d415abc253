"""A price that is raised or lowered, by a percentage or by an amount.

A percentage rounds each amount half up to the minor unit, or to the nearest amount with the ending that is wanted;
steps and suggestions of what the buyer wants stay theirs.

>>> plus = Change(percent=Fraction(5))
>>> changed_price(FixedPrice(Money(2400, "EUR")), plus).amount.major
'25.20'
>>> changed_price(FixedPrice(Money(2400, "EUR")), replace(plus, ending=Fraction(95, 100))).amount.major
'24.95'
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction

from cravik.core.errors import CoreError, Fault
from cravik.core.pricing.currency import minor_digits
from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import rounded_ratio
from cravik.core.pricing.price import BundlesPrice, FixedPrice, LevelsPrice, OpenPrice, PacksPrice, Price, QuantityPrice


class NotRepriced(CoreError):
    """The price cannot be changed so."""


@dataclass(frozen=True, slots=True)
class Change:
    """By how much: a percentage, or else an ``amount``; either may be below zero.

    ``ending`` is what prices end in afterwards, in parts of the major unit from 0 up to 1; None: in whatever comes.
    """

    percent: Fraction | None = None
    amount: Money | None = None
    ending: Fraction | None = None

    def of(self, money: Money, pieces: int = 1) -> Money:
        """What the price of so many ``pieces`` becomes, each of which an amount is added to. Raises ``NotRepriced``
        where nothing, or less, would be left."""
        if self.percent is not None:
            share = money.minor * (100 + self.percent)
            changed = Money(rounded_ratio(share.numerator, 100 * share.denominator), money.currency)
        else:
            assert self.amount is not None
            if self.amount.currency != money.currency:
                raise NotRepriced(Fault("in_another_currency", currency=money.currency))
            changed = money + self.amount * pieces
        if changed.minor <= 0 < money.minor:
            raise NotRepriced(Fault("nothing_left_of_price"))
        if not money.minor:
            return money
        return changed if self.ending is None else ending_in(changed, self.ending)


def ending_in(money: Money, ending: Fraction) -> Money:
    """The nearest amount above zero that ends so, the higher of two that are as near. Raises ``NotRepriced`` where the
    currency has no such amounts."""
    major = 10 ** minor_digits(money.currency)
    part = ending * major
    if part.denominator != 1:
        raise NotRepriced(Fault("no_such_ending", currency=money.currency))
    whole = rounded_ratio(money.minor - part.numerator, major)
    return Money(max(whole, 0 if part else 1) * major + part.numerator, money.currency)


def changed_price(price: Price, change: Change) -> Price:
    """The price after the change. Raises ``NotRepriced``."""
    match price:
        case FixedPrice(amount=amount):
            now = change.of(amount)
            return replace(price, amount=now, was=price.was if price.was and price.was > now else None)
        case LevelsPrice(levels=levels):
            return replace(price, levels=tuple(replace(each, amount=change.of(each.amount)) for each in levels))
        case QuantityPrice(breaks=breaks):
            return replace(price, breaks=tuple(replace(each, unit=change.of(each.unit)) for each in breaks))
        case BundlesPrice(unit=unit, bundles=bundles):
            changed = replace(
                price,
                unit=change.of(unit),
                bundles=tuple(replace(each, amount=change.of(each.amount, each.count)) for each in bundles),
            )
            if any(each.amount >= changed.unit * each.count for each in changed.bundles):
                raise NotRepriced(Fault("bundle_no_cheaper"))
            return changed
        case PacksPrice(amount=amount):
            return replace(price, amount=change.of(amount))
        case OpenPrice():
            raise NotRepriced(Fault("price_of_buyer"))
