"""What a seller decided of documents and refunds."""

from __future__ import annotations

from cravik.orders.models import OrderSettings


def settings_of(business_id: int) -> OrderSettings:
    """The decision; where there is none, what holds without one, not saved."""
    found = OrderSettings.objects.filter(business_id=business_id).first()
    return found or OrderSettings(business_id=business_id)
