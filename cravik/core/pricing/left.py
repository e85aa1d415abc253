"""What is left of a line, of delivery or of the covered fee, while it is paid, or goes back, in parts.

A part is taken from what is left: what falls on it of discount and tax in the same proportion, rounded half away from
zero, and the tax over its rates by largest remainder. The last part takes the rest. So no part exceeds what there was,
by any rate or in sum, and all of them add up to it.

>>> left = Left(1951, 0, 2400, (("VAT", Percent.parse("23")),), [449])
>>> left.take(1000).parts, left.take(1400).parts, left.total
([187], [262], 0)
"""

from __future__ import annotations

from dataclasses import dataclass, field

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import Percent, rounded_ratio
from cravik.core.pricing.shares import in_proportion


@dataclass(slots=True)
class Left:
    """What is left, in minor units. ``parts`` is its tax by each of the ``rates`` (name and percentage).

    ``gap`` is what the total is more than the amount after its discount: the tax where it comes on top, less what a
    buyer accounts for.
    """

    amount: int
    discount: int
    total: int
    rates: tuple[tuple[str, Percent], ...] = ()
    parts: list[int] = field(default_factory=list)

    @property
    def gap(self) -> int:
        return self.total - self.amount + self.discount

    def take(self, part: int, of: int = 0, whole: int = 0) -> Left:
        """Take ``part`` of the total away, and return what it consists of. Of something that costs nothing, as much is
        taken as the payment ``of`` is of the ``whole`` that is left."""
        share, left = (part, self.total) if self.total else (of, whole)
        discount, tax = _share(self.discount, share, left), _share(sum(self.parts), share, left)
        gap = tax if self.gap == sum(self.parts) else _share(self.gap, share, left)
        taken = Left(part + discount - gap, discount, part, self.rates, in_proportion(tax, self.parts))
        self.amount, self.discount, self.total = self.amount - taken.amount, self.discount - discount, self.total - part
        self.parts = [there - gone for there, gone in zip(self.parts, taken.parts, strict=True)]
        return taken

    def taxes(self, currency: str) -> tuple[TaxLine, ...]:
        """The tax in it by rate, each with the net sum that it is on."""
        base = Money(self.total - sum(self.parts), currency)
        rows = zip(self.rates, self.parts, strict=True)
        return tuple(TaxLine(name, percent, base, Money(part, currency)) for (name, percent), part in rows)


def _share(whole: int, part: int, of: int) -> int:
    """So much of ``whole`` as ``part`` is ``of``, rounded; all of it where that is of nothing."""
    return rounded_ratio(whole * part, of) if of else whole
