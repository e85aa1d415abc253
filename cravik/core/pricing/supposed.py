"""The basket of a buyer who has not chosen anything yet: the first of whatever is to choose, at the supposed place."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.destination import supposed_place
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.price import LevelsPrice
from cravik.core.pricing.schedule import ChoicePlan


def supposed_basket(offer: Offer, on: date, home: str) -> Basket:
    """What is bought on that day if nothing is changed; ``home`` is the seller's country. An amount that the buyer
    decides is left to them."""
    plan = offer.plan.of[0].key if isinstance(offer.plan, ChoicePlan) else None
    return Basket(on, tuple(_lines(offer)), destination=supposed_place(offer, home), plan=plan)


def _lines(offer: Offer) -> Iterator[BasketLine]:
    for line in offer.lines:
        if not line.optional and (line.choices or isinstance(line.price, LevelsPrice)):
            yield supposed_line(line)


def supposed_line(line: Line) -> BasketLine:
    """The first option of each group, and the first level."""
    level = line.price.levels[0].key if isinstance(line.price, LevelsPrice) else None
    return BasketLine(line.key, options={choice.name: choice.options[0].name for choice in line.choices}, level=level)
