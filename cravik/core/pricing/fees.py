"""The processor's fee, and so what the seller keeps.

>>> fee = Fee(Percent.parse("1.5"), Money(25, "EUR"))
>>> fee.on(Money(4800, "EUR")), fee.covered(2000)
(Money(minor=97, currency='EUR'), 2056)
"""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import WHOLE, Percent


@dataclass(frozen=True, slots=True)
class Fee:
    """A ``percent`` of the total, rounded, and a ``fixed`` sum on top; the buyer may offer to cover it."""

    percent: Percent
    fixed: Money
    buyer_may_cover: bool = False

    def on(self, total: Money) -> Money:
        """The fee on a payment of ``total``; nothing where the total is zero."""
        return Money(self.on_minor(total.minor), total.currency)

    def on_minor(self, total: int) -> int:
        """The same in minor units."""
        return self.percent.of(total) + self.fixed.minor if total else 0

    def covered(self, wanted: int) -> int:
        """The smallest total that leaves at least ``wanted`` after the fee, in minor units.

        Total − fee only grows with the total (a percentage below 100), and with the rounding half up
        the condition total − ⌊total × p + ½⌋ − fixed ≥ wanted has this closed form:
        total > (2 × (wanted + fixed) − 1) ÷ (2 × (1 − p)).
        """
        if not wanted:
            return 0
        kept = WHOLE - self.percent.ten_thousandths
        return WHOLE * (2 * (wanted + self.fixed.minor) - 1) // (2 * kept) + 1
