"""What of a refund is tax, by rate.

Money that goes back after a sale lowers what was taxed and its tax in the same proportion (Council Directive
2006/112/EC, article 90). The tax of all that was refunded so far is worked out once, for each rate rounded half away
from zero, and what earlier refunds held of it is taken off. So the refunds of a payment hold no more tax than it did by
any rate, the last holds what is left, and it does not matter in how many parts it goes back.

>>> from cravik.core.pricing.percent import Percent
>>> rate = TaxLine("VAT", Percent.parse("23"), Money(2358, "EUR"), Money(542, "EUR"))
>>> first, last = Money(1000, "EUR"), Money(1900, "EUR")
>>> [row.amount.major for row in tax_of_refund(Money(2900, "EUR"), [rate], Money(0, "EUR"), first)]
['1.87']
>>> [row.amount.major for row in tax_of_refund(Money(2900, "EUR"), [rate], first, last)]
['3.55']
"""

from __future__ import annotations

from collections.abc import Sequence

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import rounded_ratio


def tax_of_refund(paid: Money, tax_lines: Sequence[TaxLine], before: Money, amount: Money) -> tuple[TaxLine, ...]:
    """The tax in a refund of ``amount``, by the rates of the payment, after as much was refunded as ``before`` says.

    Net and tax of a rate are together what of the refund falls on it. Raises ``ValueError`` where more would go back
    than was ``paid``.
    """
    if before.minor < 0 or amount.minor < 0 or before.minor + amount.minor > paid.minor:
        raise ValueError(f"{amount.major} after {before.major} is not within the {paid.major} that were paid")
    after = before + amount
    return tuple(_less(_until(after, paid, row), _until(before, paid, row)) for row in tax_lines)


def _until(refunded: Money, paid: Money, row: TaxLine) -> TaxLine:
    """What of a rate falls on all that was refunded until then."""
    currency = paid.currency

    def share(minor: int) -> Money:
        return Money(rounded_ratio(minor * refunded.minor, paid.minor) if paid else 0, currency)

    tax = share(row.amount.minor)
    return row._replace(base=share(row.base.minor + row.amount.minor) - tax, amount=tax)


def _less(row: TaxLine, other: TaxLine) -> TaxLine:
    return row._replace(base=row.base - other.base, amount=row.amount - other.amount)
