"""What a buyer is told of a parcel that is on its way."""

from __future__ import annotations

from django.utils.html import format_html
from django.utils.safestring import SafeString

from cravik.mailroom.services import OutgoingLetter
from cravik.orders.letters import sent_to
from cravik.orders.models import Order, Parcel
from cravik.orders.to_buyer import letter_to_buyer
from cravik.setup.messages.after_paying import ON_ITS_WAY
from cravik.setup.messages.filling import Block, Values


def letter_about_parcel(order: Order, parcel: Parcel) -> OutgoingLetter:
    """The letter about the parcel, once for each."""
    values: Values = {
        "parcel": _parcel_block(parcel),
        "sent_to": sent_to(order.checkout),
        "reference": order.checkout.reference,
    }
    return letter_to_buyer(order, ON_ITS_WAY, f"parcel-{parcel.key}", values)


def _parcel_block(parcel: Parcel) -> Block:
    text, html = [], []
    if parcel.carrier:
        text.append(f"Carried by {parcel.carrier}")
        html.append(format_html("Carried by {}", parcel.carrier))
    if parcel.tracking:
        text.append(f"{'Follow it' if parcel.tracking_address else 'Tracking number'}: {parcel.tracking}")
        html.append(_tracking_html(parcel))
    if not text:
        return Block("", "")
    return Block("\n".join(text), format_html("<p>{}</p>", SafeString("<br>".join(html))))


def _tracking_html(parcel: Parcel) -> SafeString:
    if parcel.tracking_address:
        return format_html('Follow it: <a href="{}">{}</a>', parcel.tracking_address, parcel.tracking)
    return format_html("Tracking number: {}", parcel.tracking)
