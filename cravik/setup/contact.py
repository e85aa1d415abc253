"""Whom buyers ask, and what their statement says: the business's, or a link's own."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypedDict

from cravik.people.models import Business


class Contact(TypedDict):
    """An e-mail address, and the words on the buyer's statement."""

    support_email: str
    statement_text: str


def contact_of(business: Business, own: Mapping[str, str] | None) -> Contact:
    """The contact in ``own``, a link's decision, else the business's."""
    effective = own or {}
    return {
        "support_email": effective.get("support_email") or business.support_email,
        "statement_text": effective.get("statement_text") or business.statement_text,
    }


def seller_lines(business: Business) -> list[str]:
    """Who sells, as receipts show it: name, address and tax number; nothing while neither of the latter is known."""
    address = [line for line in business.address.split("\n") if line.strip()]
    number = [f"Tax number {business.tax_number}"] if business.tax_number else []
    return [business.name, *address, *number] if address or number else []
