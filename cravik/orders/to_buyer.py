"""A letter to the buyer of an order, whatever it is about."""

from __future__ import annotations

from cravik.links.life.shown_version import shown_version
from cravik.mailroom.services import OutgoingLetter
from cravik.orders.models import Order
from cravik.orders.own_page import mailed_path
from cravik.setup.hosts import address_of
from cravik.setup.messages.filling import Values, WebAddress
from cravik.setup.messages.message import MessageKind
from cravik.setup.messages.wording import compose, words_of


def letter_to_buyer(order: Order, kind: MessageKind, occasion: str, values: Values) -> OutgoingLetter:
    """A letter of that kind in the look that the buyer saw; ``values`` beside those that every such letter has."""
    contact = order.checkout.contact["support_email"]
    known: Values = {
        "buyer": order.buyer_name,
        "business": order.business.name,
        "thing": order.title,
        "order": str(order).capitalize(),
        "receipt_address": WebAddress(address_of(order.business_id, mailed_path(order.checkout.reference))),
        "contact": contact,
        **values,
    }
    look = shown_version(order.version_id).look
    composed = compose(kind, words_of(order.business, kind.kind), known, look=look, rehearsal=order.rehearsal)
    return OutgoingLetter(
        kind=kind.kind,
        occasion=occasion,
        to_name=order.buyer_name,
        to_address=order.buyer_email,
        **vars(composed),
        reply_to=contact,
        rehearsal=order.rehearsal,
        order_id=order.pk,
    )
