"""What a discount code makes of the sum, in words.

>>> from cravik.core.pricing.money import Money
>>> from cravik.core.pricing.discounts import PercentCode
>>> from cravik.core.pricing.offer import simple_offer
>>> from cravik.core.pricing.percent import Percent
>>> gust = PercentCode(code="GUST", percent=Percent.parse("15"))
>>> kite = replace(simple_offer("Kite", Money(4800, "EUR")), codes=(gust,))
>>> code_effect(kite, "GUST", date(2026, 11, 26), "IE")
'€40.80 instead of €48.00, 15 % less; 3 at once €122.40'
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date

from cravik.core.errors import BasketRefused
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.default_basket import default_basket
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import Quote, quote
from cravik.core.text.faults import fault_words
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money

_SEVERAL = 3


def code_effect(offer: Offer, code: str, today: date, country: str, locale: str = DEFAULT_LOCALE) -> str:
    """The sum of the default basket with the code and without, and of three at once; empty where there is no sum."""
    open_offer = _without_days(offer, code)
    basket = default_basket(open_offer, today, country)
    return "; ".join(_effects(open_offer, basket, code, locale))


def _effects(offer: Offer, basket: Basket, code: str, locale: str) -> Iterator[str]:
    try:
        before, after = quote(offer, basket), quote(offer, replace(basket, code=code))
    except BasketRefused as refused:
        yield from (fault_words(fault) for fault in refused.faults if fault.code.startswith("code_"))
        return
    less = before.total - after.total
    if not less:
        yield f"no difference: {format_money(after.total, locale)} either way"
        return
    per_cent = 100 * less.minor // before.total.minor
    yield f"{_sums(before, after, locale)}{f', {per_cent} % less' if per_cent else ''}"
    picked = {line.key: line for line in basket.lines}
    lines = tuple(
        replace(picked.get(line.key, BasketLine(line.key)), quantity=line.quantity.default * _SEVERAL)
        for line in offer.lines
        if not line.optional
    )
    many = replace(
        offer,
        lines=tuple(replace(line, quantity=replace(line.quantity, max=None)) for line in offer.lines),
    )
    try:
        yield f"{_SEVERAL} at once {format_money(quote(many, replace(basket, code=code, lines=lines)).total, locale)}"
    except BasketRefused:
        return


def _sums(before: Quote, after: Quote, locale: str) -> str:
    return f"{format_money(after.total, locale)} instead of {format_money(before.total, locale)}"


def _without_days(offer: Offer, code: str) -> Offer:
    """The offer as if it and the code were open today: what the code takes off is the same on every day."""
    codes = tuple(replace(each, starts_on=None, ends_on=None) for each in offer.codes)
    return replace(offer, window=None, codes=codes)
