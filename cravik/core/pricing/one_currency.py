"""All amounts of one document are in one currency.

>>> from cravik.core.pricing.price import FixedPrice
>>> currencies_in((FixedPrice(Money(2400, "EUR")), Money(100, "GBP"))) == {"EUR", "GBP"}
True
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, is_dataclass
from functools import cache
from typing import Any

from cravik.core.pricing.money import Money


def currencies_in(part: Any) -> set[str]:
    """The currencies of every amount in ``part``: a frozen dataclass, a tuple or a mapping of such, or an amount."""
    found: set[str] = set()
    waiting = [part]
    while waiting:
        each = waiting.pop()
        kind = type(each)
        if kind is Money:
            found.add(each.currency)
        elif kind is tuple or kind is list:
            waiting += each
        elif kind is dict:
            waiting += each.values()
        else:
            waiting += [getattr(each, name) for name in _NAMES(kind)]
    return found


def _names(kind: Any) -> tuple[str, ...]:
    """The fields of a dataclass that may hold an amount; nothing else has parts."""
    if not is_dataclass(kind):
        return ()
    return tuple(field.name for field in fields(kind) if str(field.type) not in _WITHOUT_AMOUNTS)


#: The annotations of fields in which there is certainly no amount.
_WITHOUT_AMOUNTS = frozenset(("str", "int", "bool", "str | None", "int | None", "date | None", "tuple[str, ...]"))
_NAMES: Callable[[Any], tuple[str, ...]] = cache(_names)
