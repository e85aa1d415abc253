"""What the seller has of an order, once money went back too."""

from __future__ import annotations

from cravik.core.pricing.money import Money
from cravik.core.pricing.refunds import tax_of_refunds
from cravik.core.text.slip import Row, kept_rows, kept_rows_after
from cravik.orders.models import Order


def kept_of(order: Order) -> tuple[Row, ...]:
    """What is taken off what was paid, and what is left. Of an order that came ``with_returned``.

    Of one with several payments, what is left is before refunds: what of them was tax is each payment's own.
    """
    quote, refunded = order.checkout.quote, -order.returned
    if not refunded or quote.schedule:
        return kept_rows(quote)
    none = Money(0, order.currency)
    tax = sum((row.amount for row in tax_of_refunds(quote.total, quote.tax_lines, refunded)), none)
    return kept_rows_after(quote, refunded, tax)
