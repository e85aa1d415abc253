"""What the seller has of an order, once money went back too."""

from __future__ import annotations

from collections.abc import Sequence

from cravik.core.pricing.money import Money
from cravik.core.pricing.refunds import rows_of_refund
from cravik.core.text.slip import Kept, Row, kept_rows, rows_of_kept
from cravik.orders.charges import Charge, shares_of
from cravik.orders.models import Order


def kept_of(order: Order, charges: Sequence[Charge]) -> tuple[Row, ...]:
    """What is taken off what was paid so far, and what is left; of one that is not paid, of what it would be."""
    if not charges:
        return kept_rows(order.checkout.quote)
    none = Money(0, order.currency)
    fee = tax = postage = refunded = none
    for charge in charges:
        rows, done = charge.rows, charge.done
        shares = shares_of(rows, done)
        back = [rows_of_refund(rows, shares[:place], each) for place, each in enumerate(shares)]
        delivery_tax = sum((row.amount for row in rows.delivery_taxes), none)
        fee += rows.fee - Money(sum(each.fee_minor for each in done), order.currency)
        tax += rows.tax - sum((each.tax for each in back), none)
        postage += rows.delivery_total - delivery_tax
        refunded += sum((each.total for each in back), none)
    paid = sum((charge.rows.total for charge in charges), none)
    return rows_of_kept(Kept(paid, fee, tax, postage, refunded))
