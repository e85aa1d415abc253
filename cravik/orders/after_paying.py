"""What follows a payment as the link has it: the seller's message, and the page to go on to."""

from __future__ import annotations

from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from cravik.core.link.onward import host_of
from cravik.core.pricing.money import Money
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money
from cravik.links.life.shown_version import shown_version
from cravik.links.places.onward import onward_of
from cravik.orders.models import Order
from cravik.setup.messages.filling import Block, Values, fill_html, fill_text


def order_values(buyer: str, thing: str, paid: Money, number: int, reference: str, locale: str) -> Values:
    """What the placeholders of the message stand for."""
    amount = format_money(paid, locale)
    return {"buyer": buyer, "thing": thing, "amount": amount, "order": str(number), "reference": reference}


def message_html(message: str, values: Values) -> SafeString:
    """The seller's message with the order's values in it."""
    return mark_safe(fill_html(message, values))  # noqa: S308  # Markdown was cleaned, and each value escaped


def what_follows(order: Order) -> Block:
    """The same for the receipt, so that who never comes back to the page still has it."""
    after = shown_version(order.version_id).content.after
    reference = order.checkout.reference
    values = order_values(order.buyer_name, order.title, order.paid, order.number, reference, DEFAULT_LOCALE)
    text, html = fill_text(after.message, values), message_html(after.message, values) if after.message else ""
    onward = onward_of(after.go_to, order.business_id, reference, rehearsal=order.rehearsal)
    if onward:
        text = f"{text}\n\nContinue: {onward}".strip()
        html = format_html('{}<p><a href="{}">Continue to {}</a></p>', html, onward, host_of(onward))
    return Block(text, html)
