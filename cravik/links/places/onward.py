"""The key by which a seller's page knows that a buyer comes from paying: one a business, of this installation."""

from __future__ import annotations

from django.utils.crypto import salted_hmac

from cravik.core.link.onward import onward_address


def signing_key(business_id: int) -> str:
    """In hexadecimal, as it is shown to the seller; its bytes as text are the key."""
    return salted_hmac("cravik.links.places.onward", str(business_id), algorithm="sha256").hexdigest()


def onward_of(go_to: str | None, business_id: int, reference: str, *, rehearsal: bool) -> str:
    """Where the buyer of the order goes on to, or nothing where the link says no page. That it was a rehearsal is
    signed too."""
    value = f"{reference}.rehearsal" if rehearsal else reference
    return onward_address(go_to, value, signing_key(business_id).encode()) if go_to else ""
