"""What an offer costs: the only file that knows the order of the steps.

>>> from cravik.core.offer import simple_offer
>>> quote(simple_offer("Kite repair", Money(2400, "EUR"))).total.major
'24.00'
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from cravik.core.money import Money
from cravik.core.offer import Offer

FORMAT = "cravik.quote/1"


@dataclass(frozen=True)
class QuotedLine:
    """One line of the slip: ``quantity`` units at ``unit`` each, ``amount`` in all."""

    key: str
    name: str
    quantity: int
    unit: Money
    amount: Money


@dataclass(frozen=True)
class Quote:
    """The whole sum: ``subtotal`` of the lines, ``total`` to pay, the processor's ``fee`` and
    the ``net`` that the seller keeps."""

    currency: str
    lines: tuple[QuotedLine, ...]
    subtotal: Money
    total: Money
    fee: Money
    net: Money


def quote(offer: Offer) -> Quote:
    """Each line once, summed, with the fee taken off for the seller's net."""
    lines = tuple(QuotedLine(line.key, line.name, 1, line.price.amount, line.price.amount) for line in offer.lines)
    nothing = Money(0, offer.currency)
    total = sum((line.amount for line in lines), nothing)
    fee = offer.fee.on(total) if offer.fee else nothing
    return Quote(offer.currency, lines, subtotal=total, total=total, fee=fee, net=total - fee)


def write_quote(quoted: Quote) -> dict[str, Any]:
    """The ``cravik.quote/1`` document, amounts as strings in major units."""
    nothing = Money(0, quoted.currency).major
    return {
        "format": FORMAT,
        "currency": quoted.currency,
        "lines": [
            {
                "key": line.key,
                "quantity": line.quantity,
                "unit": line.unit.major,
                "amount": line.amount.major,
                "discount": nothing,
                "tax": nothing,
                "total": line.amount.major,
            }
            for line in quoted.lines
        ],
        "subtotal": quoted.subtotal.major,
        "discount": nothing,
        "delivery": nothing,
        "tax": nothing,
        "tax_lines": [],
        "fee_cover": nothing,
        "total": quoted.total.major,
        "due_now": quoted.total.major,
        "schedule": [],
        "fee": quoted.fee.major,
        "net": quoted.net.major,
    }
