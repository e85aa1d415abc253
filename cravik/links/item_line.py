"""What the offer of a link has from the item that it sells."""

from __future__ import annotations

from dataclasses import replace

from cravik.catalogue.models import Item
from cravik.core.money import Money
from cravik.core.offer import Offer
from cravik.core.options import Choice, Option, least_adds
from cravik.core.price import FixedPrice


class PriceTooLow(Exception):
    """With some option the thing would cost nothing or less. ``least`` is the lowest price at which it does not."""

    def __init__(self, least: Money) -> None:
        super().__init__(f"An option takes off more than that. The least is {least.major}.")
        self.least = least


def named(offer: Offer, name: str) -> Offer:
    """The offer and its first line by another name."""
    return replace(offer, title=name, lines=(replace(offer.lines[0], name=name), *offer.lines[1:]))


def sold(offer: Offer, item: Item) -> Offer:
    """The offer with all that its first line has from the item: name, code, options, whether it is sent, its weight,
    how it is taxed. The price stays. Raises ``PriceTooLow``.
    """
    return _sold(offer, item, choices_of(item, offer))


def followed(offer: Offer, item: Item) -> Offer:
    """The same, for an item that changed by itself: where its options undercut the price, the former ones stay."""
    try:
        return sold(offer, item)
    except PriceTooLow:
        return _sold(offer, item, offer.lines[0].choices)


def choices_of(item: Item, offer: Offer) -> tuple[Choice, ...]:
    """The item's groups of options. What they add is in the item's currency, and nothing in another.

    Raises ``PriceTooLow`` where one of them would leave nothing of the offer's price.
    """
    adds_count = item.currency == offer.currency
    choices = tuple(
        Choice(
            group.name,
            tuple(
                Option(option.name, option.add if option.add_minor and adds_count else None, option.weight_g)
                for option in group.options.all()
            ),
        )
        for group in item.choices.prefetch_related("options")
        if group.options.all()
    )
    price = offer.lines[0].price
    if isinstance(price, FixedPrice) and price.amount.minor + least_adds(choices) <= 0:
        raise PriceTooLow(Money(1 - least_adds(choices), offer.currency))
    return choices


def _sold(offer: Offer, item: Item, choices: tuple[Choice, ...]) -> Offer:
    ships = item.kind == Item.Kind.GOODS
    line = replace(
        offer.lines[0],
        name=item.name,
        sku=item.code or None,
        ships=ships,
        weight_g=item.weight_g if ships else 0,
        tax_category=item.tax_category,
        choices=choices,
    )
    return replace(offer, title=item.name, lines=(line, *offer.lines[1:]))
