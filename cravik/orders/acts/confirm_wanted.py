"""A card's bank wants its customer to confirm: who pays just now is led there, and whoever is charged later is written
to, and has days for it."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction

from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.orders.clock import day_of
from cravik.orders.happened import about
from cravik.orders.happened_over_time import ConfirmWanted
from cravik.orders.models import Order
from cravik.orders.over_time_letters import letter_to_confirm
from cravik.payments.models import Attempt
from cravik.payments.services import await_money, note_detail
from cravik.payments.ways.card import BANK
from cravik.people.actors import BUYER

CONFIRM_WITHIN = timedelta(days=3)


@transaction.atomic
def want_confirmation(attempt: Attempt, address: str, now: datetime) -> None:
    """Note where the bank asks; safe to repeat, and told once."""
    note_detail(attempt, BANK, address, now)
    if attempt.by == BUYER.kind or attempt.awaited_until is not None:
        return
    order = Order.objects.select_related("business", "checkout", "link").filter(checkout=attempt.checkout_id).first()
    if order is None:
        return
    until = now + CONFIRM_WITHIN
    await_money(attempt, until, now)
    write(ConfirmWanted(attempt.amount_minor, attempt.currency), about(order), now, attempt.actor)
    queue_letters(order.business, [letter_to_confirm(order, attempt, day_of(order, until))], now)
