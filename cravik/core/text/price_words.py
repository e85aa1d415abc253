"""What a link costs, in a few words that are true for every kind of offer.

The words speak of the smallest order: every line that is no extra, at its least quantity, before delivery.

>>> from cravik.core.pricing.offer import simple_offer
>>> price_in_words(simple_offer("Kite repair", Money(2400, "EUR")))
'€24.00'
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from cravik.core.pricing.money import Money, total_of
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.options import greatest_addition, least_addition
from cravik.core.pricing.price import BundlesPrice, LevelsPrice, OpenPrice, PacksPrice, QuantityPrice, Wanted
from cravik.core.pricing.quote import with_prices_of_plan
from cravik.core.pricing.schedule import ChoicePlan, RepeatPlan
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money
from cravik.core.text.plan_words import every_words


class Span(NamedTuple):
    """From what to what an order may cost; ``most`` is None where nobody can say."""

    least: Money
    most: Money | None


def price_in_words(offer: Offer, locale: str = DEFAULT_LOCALE) -> str:
    """Such as ``€48.00``, ``from €9.00``, ``€12.00–€40.00``, ``pay what you want, from €5.00`` or ``free``.

    A price that repeats says how often, and one that tax is added to says so.
    """
    required = [line for line in offer.lines if not line.optional]
    if len(required) == 1 and isinstance(required[0].price, OpenPrice):
        words = _wanted(required[0].price, required[0].quantity.min, locale)
        return f"{words}{_more(offer)}"
    span = price_span(offer)
    least = format_money(span.least, locale)
    if span.most == span.least:
        words = least if span.least else "free"
    elif span.most is None:
        words = f"from {least}"
    else:
        most = format_money(span.most, locale)
        words = f"{least}–{most}" if span.least else f"up to {most}"
    return words if words == "free" else f"{words}{_more(offer)}"


def _more(offer: Offer) -> str:
    repeats = ""
    if isinstance(offer.plan, RepeatPlan):
        repeats = " once" if all(line.once for line in offer.lines) else f" {every_words(offer.plan.every)}"
    on_top = offer.tax is not None and offer.tax.rates and not offer.tax.prices_include_tax
    return f"{repeats}{' plus tax' if on_top else ''}"


def _wanted(price: OpenPrice, quantity: int, locale: str) -> str:
    if not price.min:
        return "pay what you want"
    return f"pay what you want, from {format_money(price.min * quantity, locale)}"


def price_span(offer: Offer) -> Span:
    """From what to what the smallest order may cost, over all plans that a buyer could pick: some have prices of their
    own."""
    if not isinstance(offer.plan, ChoicePlan):
        return _of_lines(offer)
    spans = {_of_lines(with_prices_of_plan(offer, choice.key)) for choice in offer.plan.of}
    return spans.pop() if len(spans) == 1 else Span(min(span.least for span in spans), None)


def _of_lines(offer: Offer) -> Span:
    required = [_of_line(line) for line in offer.lines if not line.optional]
    if not required:
        return Span(min(_of_line(line).least for line in offer.lines), None)
    least = total_of((span.least for span in required), offer.currency)
    mosts = [span.most for span in required if span.most is not None]
    return Span(least, total_of(mosts, offer.currency) if len(mosts) == len(required) else None)


def _of_line(line: Line) -> Span:
    quantity, most = line.quantity.min, line.quantity.max
    amounts = [line.price.on(wanted).amount for wanted in _ways(line, quantity)]
    may_grow = isinstance(line.price, QuantityPrice | PacksPrice | BundlesPrice) and (most is None or most > quantity)
    return Span(min(amounts), None if may_grow or _has_no_end(line) else max(amounts))


def _ways(line: Line, quantity: int) -> Iterator[Wanted]:
    """What a buyer may ask of the line that makes it cheapest or dearest."""
    for add in (least_addition(line.choices), greatest_addition(line.choices)):
        match line.price:
            case LevelsPrice(levels=levels):
                yield from (Wanted(quantity, add, level=level.key) for level in levels)
            case OpenPrice(min=least, max=most):
                yield from (Wanted(quantity, add, entered=each) for each in (least, most) if each is not None)
            case _:
                yield Wanted(quantity, add)


def _has_no_end(line: Line) -> bool:
    return isinstance(line.price, OpenPrice) and line.price.max is None
