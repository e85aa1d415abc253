"""The processor's fee, and so what the seller keeps.

>>> Fee(Percent.from_text("1.5"), Money(25, "EUR")).on(Money(4800, "EUR"))
Money(minor=97, currency='EUR')
"""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.money import Money
from cravik.core.percent import Percent


@dataclass(frozen=True)
class Fee:
    """A ``percent`` of the total, rounded, and a ``fixed`` sum on top."""

    percent: Percent
    fixed: Money

    def on(self, total: Money) -> Money:
        """The fee on a payment of ``total``; nothing where the total is zero."""
        if not total:
            return total
        return Money(self.percent.of(total.minor), total.currency) + self.fixed
