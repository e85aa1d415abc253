"""Where a seller finds what is paid over time of an order."""

from __future__ import annotations

from django.urls import reverse

from cravik.orders.models import Order


def running_path(order: Order) -> str:
    return reverse("running:rehearsal" if order.rehearsal else "running:plan", args=[order.number])
