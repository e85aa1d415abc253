"""The basket of a buyer who has not chosen anything yet: the first option of each group, at the supposed place."""

from __future__ import annotations

from datetime import date

from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.destination import supposed_place
from cravik.core.pricing.offer import Offer


def supposed_basket(offer: Offer, on: date, home: str) -> Basket:
    """What is bought on that day if nothing is changed; ``home`` is the seller's country."""
    lines = tuple(
        BasketLine(line.key, options={choice.name: choice.options[0].name for choice in line.choices})
        for line in offer.lines
        if line.choices and not line.optional
    )
    return Basket(on, lines, destination=supposed_place(offer, home))
