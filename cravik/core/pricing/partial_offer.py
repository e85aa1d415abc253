"""An offer that is not finished: its parts as far as they are decided."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.pricing.delivery import Delivery
from cravik.core.pricing.discounts import Code
from cravik.core.pricing.fees import Fee
from cravik.core.pricing.offer import EXACTLY_ONE, Offer, Quantity, Window
from cravik.core.pricing.options import OptionGroup
from cravik.core.pricing.price import Price
from cravik.core.pricing.schedule import ONCE, Plan, RepeatPlan, simple_plans
from cravik.core.pricing.tax import TaxRules


@dataclass(frozen=True, slots=True)
class PartialLine:
    """A line as far as it is decided; an empty ``name`` and a ``price`` of None are gaps."""

    key: str = ""
    name: str = ""
    price: Price | None = None
    quantity: Quantity = EXACTLY_ONE
    choices: tuple[OptionGroup, ...] = ()
    optional: bool = False
    ships: bool = False
    once: bool = False


@dataclass(frozen=True, slots=True)
class PartialOffer:
    """An offer as far as it is decided; it has at least one line."""

    title: str = ""
    lines: tuple[PartialLine, ...] = (PartialLine(),)
    plan: Plan = ONCE
    codes: tuple[Code, ...] = ()
    delivery: Delivery | None = None
    tax: TaxRules | None = None
    fee: Fee | None = None
    window: Window | None = None

    @property
    def is_any_of(self) -> bool:
        """Whether it is several things of which a buyer takes any, and at least one in all."""
        return len(self.lines) > 1 and all(line.optional for line in self.lines)

    @property
    def repeats(self) -> bool:
        return any(isinstance(plan, RepeatPlan) for plan in simple_plans(self.plan))


def as_partial(offer: Offer) -> PartialOffer:
    """The finished offer as one without gaps."""
    return PartialOffer(
        title=offer.title,
        lines=tuple(
            PartialLine(
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
