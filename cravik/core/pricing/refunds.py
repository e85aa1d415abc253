"""What of a refund is tax, by rate.

Money that goes back after a sale lowers what was taxed and its tax in the same proportion (Council Directive
2006/112/EC, article 90). It is worked out once for all that was refunded so far, for each rate rounded half away from
zero; what one refund holds is what it adds to that. So refunds hold no more tax than their payment did by any rate, the
last holds what is left, and it does not matter in how many parts it goes back.

>>> from cravik.core.pricing.percent import Percent
>>> rate = TaxLine("VAT", Percent.parse("23"), Money(2358, "EUR"), Money(542, "EUR"))
>>> [row.amount.major for row in tax_of_refunds(Money(2900, "EUR"), [rate], Money(1000, "EUR"))]
['1.87']
"""

from __future__ import annotations

from collections.abc import Sequence

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import rounded_ratio


def tax_of_refunds(paid: Money, tax_lines: Sequence[TaxLine], refunded: Money) -> tuple[TaxLine, ...]:
    """The tax in all that was ``refunded`` of a payment so far, by the payment's rates.

    Net and tax of a rate are together what of it falls on that rate. Raises ``ValueError`` where that is more than was
    ``paid``.
    """
    if not 0 <= refunded.minor <= paid.minor:
        raise ValueError(f"{refunded.major} is not within the {paid.major} that were paid")
    return tuple(_share(row, refunded, paid) for row in tax_lines)


def _share(row: TaxLine, refunded: Money, paid: Money) -> TaxLine:
    def share(minor: int) -> Money:
        return Money(rounded_ratio(minor * refunded.minor, paid.minor) if paid else 0, paid.currency)

    tax = share(row.amount.minor)
    return row._replace(base=share(row.base.minor + row.amount.minor) - tax, amount=tax)
