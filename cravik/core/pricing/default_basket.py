"""The basket of a buyer who has not chosen anything yet: the first of whatever is to choose, at the supposed place.

The page that buyers see and the bench beside it suppose the same, so they say the same sum.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from datetime import date
from itertools import islice, product

from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.destination import default_place
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.options import OptionGroup
from cravik.core.pricing.price import LevelsPrice
from cravik.core.pricing.schedule import ChoicePlan

#: Of each line, by its key, the ways to pick its options that are sold out: names in the order of the groups.
SoldOut = Mapping[str, Sequence[tuple[str, ...]]]
#: So many ways to pick are looked at before the first of all is taken.
_MAX_LOOKED_AT = 5_000


def default_basket(offer: Offer, on: date, home: str, sold_out: SoldOut | None = None) -> Basket:
    """What is bought on that day if nothing is changed; ``home`` is the seller's country. An amount that the buyer
    decides is left to them."""
    plan = offer.plan.of[0].key if isinstance(offer.plan, ChoicePlan) else None
    lines = tuple(_lines(offer, sold_out or {}))
    return Basket(on, lines, destination=default_place(offer, home), plan=plan)


def _lines(offer: Offer, sold_out: SoldOut) -> Iterator[BasketLine]:
    for line in offer.lines:
        if not line.optional and (line.choices or isinstance(line.price, LevelsPrice)):
            yield default_line(line, sold_out.get(line.key, ()))


def default_line(line: Line, sold_out: Collection[tuple[str, ...]] = ()) -> BasketLine:
    """The first way to pick its options that is left, and the first level."""
    level = line.price.levels[0].key if isinstance(line.price, LevelsPrice) else None
    names = first_left(line.choices, sold_out)
    return BasketLine(
        line.key, options=dict(zip((choice.name for choice in line.choices), names, strict=True)), level=level
    )


def first_left(choices: Sequence[OptionGroup], sold_out: Collection[tuple[str, ...]]) -> tuple[str, ...]:
    """The first way to pick an option of each group that is not sold out, or else the first of all."""
    gone = set(sold_out)
    ways = product(*([option.name for option in choice.options] for choice in choices))
    first = tuple(choice.options[0].name for choice in choices)
    return next((way for way in islice(ways, _MAX_LOOKED_AT) if way not in gone), first)
