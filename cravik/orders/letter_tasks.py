"""Writing an order's letters, in the background."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone
from django_tasks import task

from cravik.mailroom.services import deliver_waiting
from cravik.orders.letters import queue_letters
from cravik.orders.models import Order


@task()
def write_letters(order_id: int) -> None:
    """Write the letters of an order, once, and deliver what waits."""
    now = timezone.now()
    order = Order.objects.select_related("business", "checkout").get(id=order_id)
    with transaction.atomic():
        queue_letters(order, now)
    deliver_waiting(now)
