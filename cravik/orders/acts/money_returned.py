"""Money of an order goes back."""

from __future__ import annotations

from datetime import datetime
from functools import partial

import structlog
from django.db import transaction

from cravik.events.writing import write
from cravik.orders.happened import MoneyReturned, RefundFailed, about
from cravik.orders.models import Order
from cravik.payments.models import Refund
from cravik.payments.refunding import record_refund
from cravik.payments.ways.base import RefundAnswer

logger = structlog.stdlib.get_logger("cravik.payments")


@transaction.atomic
def return_money(refund: Refund, answer: RefundAnswer, now: datetime) -> None:
    """Record what was said of a refund, once."""
    if not record_refund(refund, answer, now):
        refund.refresh_from_db()
        return
    order = Order.objects.get(checkout=refund.charge.checkout_id)
    done = refund.state == Refund.State.DONE
    told = MoneyReturned if done else RefundFailed
    write(told(refund.amount_minor, refund.currency), about(order), now, refund.actor)
    event = "refunded" if done else "refund refused"
    log = logger.bind(order=order.number, business=order.business_id, rehearsal=order.rehearsal, reason=refund.reason)
    transaction.on_commit(partial(log.info, event))
