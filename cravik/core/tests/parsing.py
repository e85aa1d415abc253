"""The terms of an offer as far as its sentence speaks of them, to be held against what was read back."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from cravik.core.pricing.partial_offer import PartialLine, PartialOffer
from cravik.core.pricing.price import FixedPrice, LevelsPrice, OpenPrice, Price, QuantityPrice
from cravik.core.pricing.schedule import ChoicePlan, Plan, RepeatPlan, SimplePlan


def terms(offer: PartialOffer) -> tuple[Any, ...]:
    """Title, lines, plan and days. Keys, names of groups, the number that stands there at first and what is suggested
    are not spoken of."""
    keys = {line.key: number for number, line in enumerate(offer.lines)}
    title = offer.title if len(offer.lines) > 1 else offer.lines[0].name
    return title, tuple(_line(line, offer) for line in offer.lines), _plan(offer.plan, keys), offer.window


def _line(line: PartialLine, offer: PartialOffer) -> tuple[Any, ...]:
    options = tuple(
        tuple((option.name, option.add if option.add else None) for option in group.options) for group in line.choices
    )
    bounds = (line.quantity.min, line.quantity.max)
    return line.name, _price(line.price), bounds, options, line.optional, line.once and offer.repeats


def _price(price: Price | None) -> Any:
    match price:
        case LevelsPrice(levels=levels):
            return tuple((level.name, level.amount) for level in levels)
        case OpenPrice(min=least, max=most):
            return "open", least, most
        case QuantityPrice(breaks=(only,)):
            # Of one break alone both methods say the same, and without a flat it is one price for each.
            return FixedPrice(only.unit) if not only.flat else ("one break", only.unit, only.flat)
        case QuantityPrice(method=method, breaks=breaks):
            return method, tuple((each.from_, each.unit, each.flat or None) for each in breaks)
        case FixedPrice(amount=amount, was=was):
            return FixedPrice(amount, was)
    return price


def _plan(plan: Plan, keys: dict[str, int]) -> Any:
    if not isinstance(plan, ChoicePlan):
        return _first(plan, keys)
    if len(plan.of) == 1 and not plan.of[0].prices:
        return _first(plan.of[0].plan, keys)
    return tuple(
        (_first(choice.plan, keys), {keys[key]: price.amount for key, price in choice.prices.items()})
        for choice in plan.of
    )


def _first(plan: SimplePlan, keys: dict[str, int]) -> Any:
    """The plan with the prices of its first payments by the places of the lines."""
    if not isinstance(plan, RepeatPlan) or plan.first is None:
        return plan
    prices = {keys[key]: price.amount for key, price in plan.first.prices.items()}
    return replace(plan, first=None), plan.first.payments, prices
