"""An offer: what is sold and on what terms. The parts are plain frozen dataclasses."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.fees import Fee
from cravik.core.money import Money

LONGEST_TITLE = 120


@dataclass(frozen=True)
class FixedPrice:
    """One price a unit."""

    amount: Money


@dataclass(frozen=True)
class Line:
    """One thing that is sold. ``key`` is a slug, unique in its offer."""

    key: str
    name: str
    price: FixedPrice


@dataclass(frozen=True)
class Offer:
    """The document that a quote is computed from."""

    title: str
    currency: str
    lines: tuple[Line, ...]
    fee: Fee | None = None


def simple_offer(purpose: str, amount: Money, fee: Fee | None = None) -> Offer:
    """The quickest offer there is: a purpose and an amount, paid once."""
    return Offer(purpose, amount.currency, (Line("purpose", purpose, FixedPrice(amount)),), fee)
