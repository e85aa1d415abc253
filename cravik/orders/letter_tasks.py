"""Writing the letters of orders, in the background."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime

import structlog
from django.db import transaction
from django.db.models import F
from django.utils import timezone
from django_tasks import task

from cravik.events.writing import write
from cravik.mailroom.services import OutgoingLetter, deliver_waiting, queue_letters
from cravik.orders.happened import LettersAgain, about
from cravik.orders.invoicing.issuing import issue_what_is_due
from cravik.orders.letters import letters_about
from cravik.orders.models import Order
from cravik.people.actors import Actor
from cravik.upkeep.queue import enqueue_once

_BATCH = 25


logger = structlog.stdlib.get_logger("cravik.letters")


@task()
def write_due_letters() -> int:
    """Write the letters of every order that waits for them, deliver them, and return how many orders.

    Safe to run at any time and twice: what an order is due is written once. An order whose letters cannot be written
    is passed over, and tried again when this runs again.
    """
    now = timezone.now()
    issue_what_is_due(now)  # letters name documents and enclose them
    written, seen = 0, 0
    while orders := list(Order.objects.due_letters().filter(id__gt=seen)[:_BATCH]):
        written += _write(orders, now)
        seen = orders[-1].pk
        deliver_waiting(now)
    return written


@transaction.atomic
def try_letters_again(order: Order, now: datetime, *, by: Actor) -> None:
    """Let the letters of an order be written after all, where that failed."""
    if Order.objects.filter(id=order.pk, letters_due=True).update(letters_tries=0):
        write(LettersAgain(), about(order), now, by)
    enqueue_once(write_due_letters)


def _write(orders: list[Order], now: datetime) -> int:
    # Composed before the transaction, which then holds the write lock for a moment only.
    composed = [(order, letters) for order in orders if (letters := _composed(order)) is not None]
    written = 0
    with transaction.atomic():
        for order, letters in composed:
            with _apart(order), transaction.atomic():
                queue_letters(order.business, letters, now)
                Order.objects.filter(id=order.pk).update(letters_due=False)
                written += 1
    return written


def _composed(order: Order) -> list[OutgoingLetter] | None:
    with _apart(order):
        return letters_about(order)
    return None


@contextmanager
def _apart(order: Order) -> Iterator[None]:
    """Whatever goes wrong with one order's letters is written down, and is no other order's business."""
    try:
        yield
    except Exception as trouble:  # a message, a template, a row: nobody can say which beforehand
        Order.objects.filter(id=order.pk).update(letters_tries=F("letters_tries") + 1)
        logger.exception("letters could not be written", order=order.number, trouble=type(trouble).__name__)
