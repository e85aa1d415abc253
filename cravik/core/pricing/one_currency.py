"""All amounts of one document are in one currency.

>>> from cravik.core.pricing.price import FixedPrice
>>> currencies_in((FixedPrice(Money(2400, "EUR")), Money(100, "GBP"))) == {"EUR", "GBP"}
True
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import fields, is_dataclass
from functools import cache
from typing import Any

from cravik.core.pricing.money import Money


def currencies_in(part: Any) -> set[str]:
    """The currencies of every amount in ``part``: a frozen dataclass, a tuple or a mapping of such, or an amount."""
    return {money.currency for money in moneys_in(part)}


def moneys_in(part: Any) -> Iterator[Money]:
    """Every amount in ``part``, in the order of its fields."""
    if isinstance(part, Money):
        yield part
    elif isinstance(part, tuple):
        for each in part:
            yield from moneys_in(each)
    elif isinstance(part, Mapping):
        for each in part.values():
            yield from moneys_in(each)
    else:
        for name in _NAMES(type(part)):
            yield from moneys_in(getattr(part, name))


def _names(kind: Any) -> tuple[str, ...]:
    """The fields of a dataclass; nothing else has parts."""
    return tuple(field.name for field in fields(kind)) if is_dataclass(kind) else ()


_NAMES: Callable[[Any], tuple[str, ...]] = cache(_names)
