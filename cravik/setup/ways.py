"""The ways to pay that a seller may allow, and what is read of each.

How each asks for money stands in ``payments/ways/``, and its part of the buyer's page in ``checkout/parts/``, both
under the same name.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from cravik.setup.defaults import Subject

CARD = "card"
#: Where nothing is due; it is nobody's to allow.
NOTHING = "nothing"
#: Among what a seller allows, the currencies that are not named.
ANY_CURRENCY = "*"


@dataclass(frozen=True)
class OfferedWay:
    """One way to pay: what it is called, in which part of Setup its fee stands, and for which currencies it can be
    had (none: for all)."""

    name: str
    label: str
    fee: Subject
    currencies: frozenset[str] = frozenset()

    def takes(self, currency: str) -> bool:
        return not self.currencies or currency in self.currencies


#: The first is what holds for a seller who decided nothing.
OFFERED_WAYS: dict[str, OfferedWay] = {CARD: OfferedWay(CARD, "Card", Subject.FEE)}


def ways_allowed(chosen: Mapping[str, Sequence[str]], currency: str) -> tuple[str, ...]:
    """The names of the ways to pay in that currency, the first one first, by what a seller has ``chosen`` for each
    currency (``Business.ways``); never none."""
    names = chosen.get(currency) or chosen.get(ANY_CURRENCY) or ()
    allowed = tuple(name for name in names if name in OFFERED_WAYS and OFFERED_WAYS[name].takes(currency))
    return allowed or (next(iter(OFFERED_WAYS)),)
