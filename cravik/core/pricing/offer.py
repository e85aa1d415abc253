"""An offer: what is sold, at what price, and how it is paid. Its parts are frozen dataclasses in their rules' files."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.core.errors import Fault, MixedCurrencies
from cravik.core.pricing.delivery import Delivery
from cravik.core.pricing.discounts import Code, normal_code
from cravik.core.pricing.fees import Fee
from cravik.core.pricing.money import Money
from cravik.core.pricing.one_currency import currencies_in
from cravik.core.pricing.options import OptionGroup
from cravik.core.pricing.price import FixedPrice, Price
from cravik.core.pricing.schedule import ONCE, Plan
from cravik.core.pricing.tax import STANDARD, TaxRules

MAX_TITLE_LENGTH = 120


@dataclass(frozen=True, slots=True)
class Quantity:
    """How many may be bought: bounds, both included (``max`` None: no limit), and what stands there at first."""

    default: int = 1
    min: int = 1
    max: int | None = 1


EXACTLY_ONE = Quantity()


@dataclass(frozen=True, slots=True)
class Line:
    """One thing that is sold. ``key`` is a slug, unique in its offer.

    An ``optional`` line is in an order only if the buyer asks for it. One that is charged ``once`` is
    left out of the later payments of a repeating plan.
    """

    key: str
    name: str
    price: Price
    sku: str | None = None
    quantity: Quantity = EXACTLY_ONE
    optional: bool = False
    choices: tuple[OptionGroup, ...] = ()
    ships: bool = False
    weight_g: int = 0
    tax_category: str = STANDARD
    once: bool = False


@dataclass(frozen=True, slots=True)
class Window:
    """When an offer can be bought: from ``opens_at`` and before ``closes_at``, either of them open."""

    opens_at: datetime | None = None
    closes_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Offer:
    """The document that a quote is computed from.

    Raises ``MixedCurrencies`` where some amount is not in ``currency``.
    """

    title: str
    currency: str
    lines: tuple[Line, ...]
    plan: Plan = ONCE
    codes: tuple[Code, ...] = ()
    delivery: Delivery | None = None
    tax: TaxRules | None = None
    fee: Fee | None = None
    window: Window | None = None

    def __post_init__(self) -> None:
        others = currencies_in((self.lines, self.plan, self.codes, self.delivery, self.fee)) - {self.currency}
        if others:
            raise MixedCurrencies(
                Fault("currency_mixed", "currency", currency=self.currency, others=tuple(sorted(others)))
            )

    @property
    def is_any_of(self) -> bool:
        """Whether it is several things of which a buyer takes any, and at least one in all."""
        return len(self.lines) > 1 and all(line.optional for line in self.lines)

    def line(self, key: str) -> Line | None:
        return next((line for line in self.lines if line.key == key), None)

    def code(self, typed: str) -> Code | None:
        """The code that a buyer typed, whatever its case and the space around it."""
        wanted = normal_code(typed)
        return next((code for code in self.codes if normal_code(code.code) == wanted), None)


def simple_offer(purpose: str, amount: Money, fee: Fee | None = None) -> Offer:
    """The quickest offer there is: a purpose and an amount, paid once."""
    return Offer(purpose, amount.currency, (Line("purpose", purpose, FixedPrice(amount)),), fee=fee)
