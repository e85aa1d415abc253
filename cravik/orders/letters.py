"""The letters about an order: the buyer's receipt and the seller's notice."""

from __future__ import annotations

from datetime import datetime

from django.template.loader import render_to_string
from django.utils import timezone

from cravik.core.money_text import in_figures
from cravik.mailroom.services import Draft, queue_letter
from cravik.orders.models import Order
from cravik.ui.addresses import absolute


def queue_letters(order: Order, now: datetime) -> None:
    """Queue both, once an order however often this runs. Days are those of the business's time zone."""
    with timezone.override(order.business.time_zone):
        _queue_letters(order, now)


def _queue_letters(order: Order, now: datetime) -> None:
    context = {
        "order": order,
        "business": order.business,
        "receipt_address": absolute(order.checkout.path),
    }
    mark = "Rehearsal: " if order.rehearsal else ""
    amount = in_figures(order.total)
    queue_letter(
        order.business,
        Draft(
            kind="receipt",
            occasion=f"order-{order.pk}",
            to_name=order.buyer_name,
            to_address=order.buyer_email,
            subject=f"{mark}Your receipt from {order.business.name}: {amount} for {order.title}",
            text=render_to_string("orders/letters/receipt.txt", context),
            html=render_to_string("orders/letters/receipt.html", context),
            reply_to=order.business.support_email,
            rehearsal=order.rehearsal,
        ),
        now,
    )
    for member in order.business.members.filter(is_active=True):
        queue_letter(
            order.business,
            Draft(
                kind="sale_notice",
                occasion=f"order-{order.pk}-to-{member.pk}",
                to_name=member.name,
                to_address=member.email,
                subject=f"{mark}{order.buyer_name} paid {amount} for {order.title}",
                text=render_to_string("orders/letters/sale_notice.txt", context),
                html=render_to_string("orders/letters/sale_notice.html", context),
                reply_to=order.buyer_email,
                rehearsal=order.rehearsal,
            ),
            now,
        )
