"""What a line of a link has from the item that it sells."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from cravik.catalogue.models import Item
from cravik.catalogue.stock import former_names
from cravik.core.documents.data import LineData, LinkData, put, put_or_drop, without
from cravik.core.documents.writing import written
from cravik.core.errors import Fault
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.options import Option, OptionGroup, least_addition
from cravik.core.pricing.tax import STANDARD
from cravik.core.text.refusal import Refusal
from cravik.links.refusals import PRICES


class PriceTooLow(Refusal):
    """With some option what the ``line`` sells would cost nothing or less; ``least`` is the lowest price at which it
    does not."""

    words = PRICES

    def __init__(self, least: Money, line: str) -> None:
        super().__init__(Fault("price_too_low", least=least))
        self.least = least
        self.line = line


def line_of_item(line: LineData, item: Item, currency: str) -> LineData:
    """The line with all that it has from the item: name, code, options, whether it is sent, its weight, how it is
    taxed. The price stays. Raises ``PriceTooLow`` where some option would leave nothing of a fixed price."""
    choices = choices_of(item, currency)
    least = least_addition(choices)
    price = line.get("price", {})
    if least and price.get("kind") == "fixed" and (Money.parse(price["amount"], currency) + least).minor <= 0:
        raise PriceTooLow(Money(1, currency) - least, line.get("key", ""))
    ships = item.kind == Item.Kind.GOODS
    return put_or_drop(
        line,
        name=item.name,
        sku=item.code,
        ships=ships,
        weight_g=item.weight_g if ships else 0,
        tax_category=item.tax_category if item.tax_category != STANDARD else None,
        choices=[written(choice) for choice in choices],
    )


def line_that_follows(line: LineData, item: Item, currency: str) -> LineData:
    """The same, for an item that changed by itself: where its options undercut the price, the former ones stay."""
    try:
        return line_of_item(line, item, currency)
    except PriceTooLow:
        changed = line_of_item(without(line, "price"), item, currency)
        return put_or_drop(changed, price=line["price"], choices=line.get("choices"))


def choices_of(item: Item, currency: str) -> tuple[OptionGroup, ...]:
    """The item's groups of options. What they add is in the item's currency, and nothing in another."""
    adds_count = item.currency == currency
    return tuple(
        OptionGroup(
            group.name,
            tuple(
                Option(option.name, option.add if option.add_minor and adds_count else None, option.weight_g)
                for option in group.options.all()
            ),
        )
        for group in item.option_groups.prefetch_related("options")
        if group.options.all()
    )


def with_line(document: LinkData, key: str, change: Callable[[LineData], LineData]) -> LinkData:
    """The link document with one line as ``change`` makes it. What is sold alone gives its name to the whole."""
    offer = document["offer"]
    lines = [change(line) if line["key"] == key else line for line in offer["lines"]]
    offer = put(offer, lines=lines)
    return put(document, offer=put(offer, title=lines[0].get("name", "")) if len(lines) == 1 else offer)


def renamed(offer: Offer, key: str, item: Item) -> Offer:
    """The published offer with the item's present names, of the thing and of its options; nothing else follows."""
    names = former_names(item)
    lines = tuple(
        replace(line, name=item.name, choices=tuple(_renamed(choice, names) for choice in line.choices))
        if line.key == key
        else line
        for line in offer.lines
    )
    return replace(offer, title=item.name if len(lines) == 1 else offer.title, lines=lines)


def _renamed(choice: OptionGroup, names: dict[tuple[str, str], tuple[str, str]]) -> OptionGroup:
    """The group under its present names, as far as all of its options have one, and no two the same."""
    present = [names.get((choice.name, option.name)) for option in choice.options]
    groups = {each[0] for each in present if each}
    options = [each[1] for each in present if each]
    if len(groups) != 1 or len(set(options)) != len(choice.options):
        return choice
    pairs = zip(choice.options, options, strict=True)
    return OptionGroup(groups.pop(), tuple(replace(option, name=name) for option, name in pairs))
