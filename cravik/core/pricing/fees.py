"""The processor's fee, and so what the seller keeps.

>>> fee = Fee(Percent.parse("1.5"), Money(25, "EUR"))
>>> fee.on(Money(4800, "EUR")).major, fee.covered(Money(2000, "EUR")).major
('0.97', '20.56')
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
        return Money(self.percent.of(total.minor) + self.fixed.minor if total else 0, total.currency)

    def covered(self, wanted: Money) -> Money:
        """The smallest total that leaves at least ``wanted`` after the fee.

        Total − fee only grows with the total (a percentage below 100), and with the rounding half up
        the condition total − ⌊total × p + ½⌋ − fixed ≥ wanted has this closed form in minor units:
        total > (2 × (wanted + fixed) − 1) ÷ (2 × (1 − p)).
        """
        if not wanted:
            return wanted
        left = WHOLE - self.percent.ten_thousandths
        return Money(WHOLE * (2 * (wanted.minor + self.fixed.minor) - 1) // (2 * left) + 1, wanted.currency)
