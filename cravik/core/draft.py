"""An offer that is not finished: its parts as far as they are decided."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.delivery import Delivery
from cravik.core.discounts import Code
from cravik.core.fees import Fee
from cravik.core.offer import EXACTLY_ONE, Offer, Quantity, Window
from cravik.core.options import Choice
from cravik.core.price import Price
from cravik.core.schedule import ONCE, Plan, RepeatPlan, simple_plans
from cravik.core.tax import TaxRules


@dataclass(frozen=True, slots=True)
class DraftLine:
    """A line as far as it is decided; an empty ``name`` and a ``price`` of None are gaps."""

    key: str = ""
    name: str = ""
    price: Price | None = None
    quantity: Quantity = EXACTLY_ONE
    choices: tuple[Choice, ...] = ()
    optional: bool = False
    ships: bool = False
    once: bool = False


@dataclass(frozen=True, slots=True)
class Draft:
    """An offer as far as it is decided; it has at least one line."""

    title: str = ""
    lines: tuple[DraftLine, ...] = (DraftLine(),)
    plan: Plan = ONCE
    codes: tuple[Code, ...] = ()
    delivery: Delivery | None = None
    tax: TaxRules | None = None
    fee: Fee | None = None
    window: Window | None = None

    @property
    def repeats(self) -> bool:
        return any(isinstance(plan, RepeatPlan) for plan in simple_plans(self.plan))


def draft_of(offer: Offer) -> Draft:
    """The finished offer as a draft without gaps."""
    return Draft(
        title=offer.title,
        lines=tuple(
            DraftLine(
                line.key, line.name, line.price, line.quantity, line.choices, line.optional, line.ships, line.once
            )
            for line in offer.lines
        ),
        plan=offer.plan,
        codes=offer.codes,
        delivery=offer.delivery,
        tax=offer.tax,
        fee=offer.fee,
        window=offer.window,
    )
