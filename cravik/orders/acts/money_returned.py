"""Money of an order goes back, and its buyer is told."""

from __future__ import annotations

from datetime import datetime
from functools import partial

import structlog
from django.db import transaction

from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.orders.acts.goods_back import take_goods_back
from cravik.orders.acts.settled import settle_by_refund
from cravik.orders.happened import MoneyReturned, RefundFailed, about
from cravik.orders.invoicing.issuing import issue_for_order
from cravik.orders.models import Order
from cravik.orders.refund_letter import letter_about_refund
from cravik.payments.models import Refund
from cravik.payments.refunding import record_refund_answer
from cravik.payments.ways.base import RefundAnswer

logger = structlog.stdlib.get_logger("cravik.payments")


@transaction.atomic
def return_money(refund: Refund, answer: RefundAnswer, now: datetime) -> None:
    """Record what was said of a refund, once."""
    if not record_refund_answer(refund, answer, now):
        refund.refresh_from_db()
        return
    related = ("business", "checkout", "link")
    order = Order.objects.select_for_update().select_related(*related).get(checkout=refund.charge.checkout_id)
    done = refund.state == Refund.State.DONE
    sums = (refund.amount_minor, refund.currency)
    what = MoneyReturned(*sums, refund.why, refund.restocks, refund.frees_places) if done else RefundFailed(*sums)
    write(what, about(order), now, refund.actor)
    if done:
        left = order.taken_minor - refund.amount_minor
        Order.objects.filter(id=order.pk).update(taken_minor=left, is_refunded=not left)
        take_goods_back(order, refund)
        settle_by_refund(order, left, now)
        issue_for_order(order, now)  # its letter names the credit note
        queue_letters(order.business, [letter_about_refund(order, refund)], now)
    event = "refunded" if done else "refund refused"
    log = logger.bind(order=order.number, business=order.business_id, rehearsal=order.rehearsal, reason=refund.reason)
    transaction.on_commit(partial(log.info, event))
