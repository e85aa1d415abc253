"""Seller and buyer as documents name them, as they are when one is made."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from cravik.core.invoicing.content import Party
from cravik.orders.models import Order
from cravik.people.models import Business


def seller_party(business: Business) -> Party:
    return Party(
        name=business.name,
        street=tuple(line for line in business.address.split("\n") if line.strip()),
        country=business.country,
        tax_number=business.tax_number,
        email=business.support_email,
    )


def buyer_party(order: Order) -> Party:
    """As the buyer said for an invoice, or else as they ordered."""
    said: Mapping[str, Any] = order.checkout.where | (order.invoice_to or {})
    return Party(
        name=said.get("name", order.buyer_name),
        company=said.get("company", ""),
        street=tuple(line for line in said.get("street", "").split("\n") if line.strip()),
        postcode=said.get("postcode", ""),
        town=said.get("town", ""),
        region=said.get("region", ""),
        country=said.get("country", ""),
        tax_number=said.get("tax_number", ""),
        email=order.buyer_email,
    )


def asked_for_invoice(order: Order) -> bool:
    """Whether the buyer did, before they paid or since."""
    where = order.checkout.where
    return order.invoice_to is not None or bool(where.get("company") or where.get("tax_number"))
