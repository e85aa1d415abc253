"""The letters about an order: the buyer's receipt and the seller's notice."""

from __future__ import annotations

from django.template.loader import render_to_string
from django.utils import timezone

from cravik.catalogue.models import Combination
from cravik.checkout.models import Checkout
from cravik.core.money_text import in_figures
from cravik.mailroom.services import Draft
from cravik.orders.models import Order
from cravik.ui.addresses import absolute


def letters_about(order: Order) -> list[Draft]:
    """The buyer's receipt and a notice to every member. Days are those of the business's time zone."""
    context = {
        "order": order,
        "business": order.business,
        "receipt_address": absolute(order.checkout.path),
    }
    mark = "Rehearsal: " if order.rehearsal else ""
    amount = in_figures(order.total)
    with timezone.override(order.business.time_zone):
        receipt = Draft(
            kind="receipt",
            occasion=f"order-{order.pk}",
            to_name=order.buyer_name,
            to_address=order.buyer_email,
            subject=f"{mark}Your receipt from {order.business.name}: {amount} for {order.title}",
            text=render_to_string("orders/letters/receipt.txt", context),
            html=render_to_string("orders/letters/receipt.html", context),
            reply_to=order.business.support_email,
            rehearsal=order.rehearsal,
        )
        notice_text = render_to_string("orders/letters/sale_notice.txt", context)
        notice_html = render_to_string("orders/letters/sale_notice.html", context)
    notices = [
        Draft(
            kind="sale_notice",
            occasion=f"order-{order.pk}-to-{member.pk}",
            to_name=member.name,
            to_address=member.email,
            subject=f"{mark}{order.buyer_name} paid {amount} for {order.title}",
            text=notice_text,
            html=notice_html,
            reply_to=order.buyer_email,
            rehearsal=order.rehearsal,
        )
        for member in order.business.members.filter(is_active=True)
    ]
    return [receipt, *notices]


def letters_about_stock(low: Combination, checkout: Checkout) -> list[Draft]:
    """To every member: that an item has come down to the level at which they wanted to be told."""
    business = checkout.business
    context = {"low": low, "business": business, "stock_address": absolute(f"{low.item.path}stock/")}
    text = render_to_string("orders/letters/stock_low.txt", context)
    html = render_to_string("orders/letters/stock_low.html", context)
    return [
        Draft(
            kind="stock_low",
            occasion=f"combination-{low.pk}-checkout-{checkout.pk}-to-{member.pk}",
            to_name=member.name,
            to_address=member.email,
            subject=f"{low.item.name}: {low.count} left",
            text=text,
            html=html,
        )
        for member in business.members.filter(is_active=True)
    ]
