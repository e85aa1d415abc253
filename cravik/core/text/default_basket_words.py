"""What a buyer has who has not chosen yet, in words.

>>> from datetime import date
>>> from cravik.core.pricing.money import Money
>>> from cravik.core.pricing.offer import simple_offer
>>> default_basket_words(simple_offer("Kite repair", Money(2400, "EUR")), Basket(date(2026, 11, 30)))
''
"""

from __future__ import annotations

from collections.abc import Iterator

from cravik.core.pricing.basket import Basket
from cravik.core.pricing.destination import asked_of
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.price import LevelsPrice
from cravik.core.pricing.schedule import ChoicePlan
from cravik.core.text.countries import country_words
from cravik.core.text.plan_words import plan_words


def default_basket_words(offer: Offer, basket: Basket) -> str:
    """Such as ``2 in Red, sent to Ireland, paid once``; nothing where there is nothing to choose."""
    return ", ".join(_assumed(offer, basket))


def _assumed(offer: Offer, basket: Basket) -> Iterator[str]:
    picked = {line.key: line for line in basket.lines}
    for line in offer.lines:
        if line.optional:
            continue
        of = f" of {line.name}" if len(offer.lines) > 1 else ""
        options = list(picked[line.key].options.values()) if line.key in picked else []
        if isinstance(line.price, LevelsPrice) and line.key in picked:
            level = line.price.level(picked[line.key].level)
            options += [level.name] if level else []
        many = f"{line.quantity.default:,}{of}" if line.quantity.default > 1 else ""
        chosen = f"{many or (line.name if of and options else '')}{' in ' if (many or of) and options else ''}"
        if words := f"{chosen}{', '.join(options)}":
            yield words
    if basket.destination and asked_of(offer).country:
        yield f"{'sent to' if offer.delivery else 'in'} {country_words(basket.destination.country)}"
    if isinstance(offer.plan, ChoicePlan) and (choice := offer.plan.choice(basket.plan)):
        yield f"paid {plan_words(choice.plan)}"
