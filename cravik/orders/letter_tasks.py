"""Writing the letters of orders, in the background."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction
from django.utils import timezone
from django_tasks import task

from cravik.mailroom.services import deliver_waiting, queue_letters
from cravik.orders.letters import letters_about
from cravik.orders.models import Order

_BATCH = 25


@task()
def write_due_letters() -> int:
    """Write the letters of every order that waits for them, deliver them, and return how many orders.

    Safe to run at any time and twice: what an order is due is written once.
    """
    now = timezone.now()
    written = 0
    while orders := list(Order.objects.due_letters()[:_BATCH]):
        _write(orders, now)
        written += len(orders)
        deliver_waiting(now)
    return written


def _write(orders: list[Order], now: datetime) -> None:
    # Composed before the transaction, which then holds the write lock for a moment only.
    letters = [(order, letters_about(order)) for order in orders]
    with transaction.atomic():
        for order, drafts in letters:
            queue_letters(order.business, drafts, now)
        Order.objects.filter(id__in=[order.pk for order in orders]).update(letters_due=False)
