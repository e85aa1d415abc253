"""What a processor charges for a document that it sends: a share of the total and a sum, and no more than a cap.

>>> DocumentCost(Percent.parse("0.4"), Money(0, "EUR"), Money(200, "EUR")).on(Money(60000, "EUR")).major
'2.00'
"""

from __future__ import annotations

from typing import NamedTuple

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent


class DocumentCost(NamedTuple):
    """``most`` is the cap, or None where there is none."""

    percent: Percent
    fixed: Money
    most: Money | None = None

    def on(self, total: Money) -> Money:
        cost = Money(self.percent.of(total.minor), total.currency) + self.fixed
        return cost if self.most is None or cost <= self.most else self.most
