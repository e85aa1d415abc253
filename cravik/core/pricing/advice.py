"""What a careful friend would say of an offer before it goes live, each with the figures that prove it.

>>> from cravik.core.pricing.fees import Fee
>>> from cravik.core.pricing.offer import simple_offer
>>> from cravik.core.pricing.percent import Percent
>>> fee = Fee(Percent.parse("1.5"), Money(25, "EUR"))
>>> [(warning.code, warning.fields["fee"]) for warning in advise(simple_offer("Sticker", Money(20, "EUR"), fee))]
[('nothing_left', Money(minor=25, currency='EUR'))]
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from cravik.core.errors import Fault
from cravik.core.pricing.advice_on_whole_order import advise_on_whole_order
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.options import least_addition
from cravik.core.pricing.percent import WHOLE
from cravik.core.pricing.price import (
    MAX_IN_BUNDLES,
    BundlesPrice,
    FixedPrice,
    LevelsPrice,
    OpenPrice,
    PacksPrice,
    QuantityPrice,
    Wanted,
)
from cravik.core.pricing.schedule import RepeatPlan, simple_plans


def advise(offer: Offer) -> list[Fault]:
    """The warnings, in the order of the offer's parts; none of them keeps the offer from being sold."""
    warnings = [warning for number, line in enumerate(offer.lines) for warning in _on_line(offer, line, number)]
    return [*warnings, *advise_on_whole_order(offer)]


def _on_line(offer: Offer, line: Line, number: int) -> Iterator[Fault]:
    at = f"lines[{number}]"
    match line.price:
        case FixedPrice() as price:
            yield from _former_price(price, at, line)
            yield from _nothing_left(offer, line, _with_least_addition(price.amount, line), f"{at}.price.amount")
        case LevelsPrice() as price:
            yield from _level_nobody_takes(price, at)
            for place, level in enumerate(price.levels):
                yield from _nothing_left(offer, line, level.amount, f"{at}.price.levels[{place}].amount")
        case QuantityPrice() as price:
            yield from _more_for_less(line, price, at)
            yield from _break_out_of_reach(line, price, at)
        case BundlesPrice() as price:
            yield from _on_bundles(line, price, at)
            yield from _nothing_left(offer, line, _with_least_addition(price.unit, line), f"{at}.price.unit")
        case PacksPrice(size=size):
            most = line.quantity.max
            if most is not None and most < size:
                yield Fault("pack_never_full", f"{at}.quantity.max", line=line.name, size=size, most=most)
        case OpenPrice() as price:
            yield from _open_minimum(offer, line, price, f"{at}.price.min")
    yield from _on_options(line, at)
    if line.once and not any(isinstance(plan, RepeatPlan) for plan in simple_plans(offer.plan)):
        yield Fault("once_means_nothing", f"{at}.once", line=line.name)


def _former_price(price: FixedPrice, at: str, line: Line) -> Iterator[Fault]:
    if price.was is not None and price.was <= price.amount:
        yield Fault("was_not_higher", f"{at}.price.was", line=line.name, was=price.was, amount=price.amount)


def _with_least_addition(unit: Money, line: Line) -> Money:
    add = least_addition(line.choices)
    return unit + add if add else unit


def _nothing_left(offer: Offer, line: Line, unit: Money, at: str) -> Iterator[Fault]:
    """A payment of one unit of which the fee leaves nothing. A price of zero has no fee."""
    if offer.fee is None or unit.minor <= 0:
        return
    amount = unit * line.quantity.min
    fee = offer.fee.on(amount)
    if fee >= amount:
        yield Fault("nothing_left", at, line=line.name, amount=amount, fee=fee)


def _open_minimum(offer: Offer, line: Line, price: OpenPrice, at: str) -> Iterator[Fault]:
    """Below the amount that the fee eats, a buyer pays and the seller gets nothing."""
    if offer.fee is None:
        return
    smallest = Money(1, offer.currency)
    least = price.min * line.quantity.min
    enough = offer.fee.covered(smallest) if offer.fee.percent.ten_thousandths < WHOLE else None
    if enough is not None and least >= enough:
        return
    least = max(least, smallest)
    fee = offer.fee.on(least)
    yield Fault("minimum_leaves_nothing", at, line=line.name, amount=least, fee=fee, enough=enough)


def _level_nobody_takes(price: LevelsPrice, at: str) -> Iterator[Fault]:
    for number, (lower, higher) in enumerate(pairwise(price.levels)):
        if lower.amount > higher.amount:
            yield Fault(
                "level_nobody_takes",
                f"{at}.price.levels[{number}]",
                lower=lower.name,
                higher=higher.name,
                lower_costs=lower.amount,
                higher_costs=higher.amount,
            )


def _more_for_less(line: Line, price: QuantityPrice, at: str) -> Iterator[Fault]:
    """A larger quantity that costs less in total than a smaller one, at the start of a break."""
    bounds = line.quantity
    for number, each in enumerate(price.breaks[1:], start=1):
        larger = max(each.from_, bounds.min)
        if bounds.max is not None and larger > bounds.max:
            return
        for add in dict.fromkeys((None, least_addition(line.choices))):
            cost = price.on(Wanted(larger, add)).amount
            smaller = _smallest_dearer(price, number, cost, add, bounds.min, larger)
            if smaller is None:
                continue
            dearer = price.on(Wanted(smaller, add)).amount
            yield Fault(
                "more_for_less",
                f"{at}.price.breaks[{number}]",
                why="more_for_less_with_options" if add else "",
                more=larger,
                more_costs=cost,
                fewer=smaller,
                fewer_costs=dearer,
            )
            break


def _smallest_dearer(
    price: QuantityPrice, number: int, cost: Money, add: Money | None, least: int, below: int
) -> int | None:
    """The smallest quantity under the break ``number`` that costs more than ``cost``, or None.

    Within one break the cost only grows with the quantity, so each break is asked for one figure.
    """
    for place in range(number):
        start = max(price.breaks[place].from_, least)
        end = min(price.breaks[place + 1].from_, below) - 1
        if start > end or price.on(Wanted(end, add)).amount <= cost:
            continue
        low, high = start, end
        while low < high:
            middle = (low + high) // 2
            if price.on(Wanted(middle, add)).amount > cost:
                high = middle
            else:
                low = middle + 1
        return low
    return None


def _on_bundles(line: Line, price: BundlesPrice, at: str) -> Iterator[Fault]:
    """Bundles that nobody can have, that nobody gets, and more pieces that cost less."""
    most = line.quantity.max or MAX_IN_BUNDLES
    sums = price.sums_up_to(most)
    for number, each in enumerate(price.bundles):
        where = f"{at}.price.bundles[{number}]"
        if each.count > most:
            yield Fault("bundle_out_of_reach", f"{where}.count", line=line.name, count=each.count, most=most)
            continue
        if sums[each.count] < each.amount:
            least = sums[each.count]
            yield Fault("bundle_never_used", f"{where}.amount", count=each.count, least=least, amount=each.amount)
            continue
        dearer = next((few for few in range(line.quantity.min, each.count) if sums[few] > sums[each.count]), None)
        if dearer is not None:
            yield Fault(
                "more_for_less",
                where,
                more=each.count,
                more_costs=sums[each.count],
                fewer=dearer,
                fewer_costs=sums[dearer],
            )


def _break_out_of_reach(line: Line, price: QuantityPrice, at: str) -> Iterator[Fault]:
    most = line.quantity.max
    beyond = [(number, each) for number, each in enumerate(price.breaks) if most is not None and each.from_ > most]
    for number, each in beyond[:1]:
        at_break = f"{at}.price.breaks[{number}].from"
        yield Fault("break_out_of_reach", at_break, line=line.name, count=each.from_, most=most)


def _on_options(line: Line, at: str) -> Iterator[Fault]:
    for number, choice in enumerate(line.choices):
        if len(choice.options) == 1:
            yield Fault("no_choice", f"{at}.choices[{number}]", choice=choice.name, option=choice.options[0].name)
