"""Money goes back: recorded, asked of the gateway, written down. Each step is safe to repeat."""

from __future__ import annotations

from datetime import datetime
from functools import partial
from typing import cast

import structlog
from django.db import transaction

from cravik.core.pricing.money import Money
from cravik.events.writing import write
from cravik.orders.happened import MoneyReturned, RefundFailed, about
from cravik.orders.models import Order
from cravik.payments.gateway import Gateway
from cravik.payments.models import Attempt, Refund
from cravik.payments.refunding import RefundAnswer, begin_refund, call_refund, record_refund
from cravik.people.actors import Actor, ActorKind

logger = structlog.stdlib.get_logger("cravik.payments")


class NoSuchCharge(Exception):
    """The order has no approved charge of that reference."""


class WhichCharge(Exception):
    """The order was paid by several ``charges``; one has to be named."""

    def __init__(self, charges: list[Attempt]) -> None:
        super().__init__("The order was paid by several charges: name one of them.")
        self.charges = charges


def charges_of(order: Order) -> list[Attempt]:
    """The approved charges of the order, in the order of their dues."""
    approved = Attempt.objects.filter(due__checkout=order.checkout_id, state=Attempt.State.APPROVED)
    return list(approved.select_related("due").order_by("due__position", "id"))


def charge_to_refund(order: Order, reference: str = "") -> Attempt:
    """The order's charge with the gateway's reference, or its only one. Raises ``NoSuchCharge`` and ``WhichCharge``."""
    charges = charges_of(order)
    if reference:
        charges = [charge for charge in charges if charge.gateway_reference == reference]
    if not charges:
        raise NoSuchCharge
    if len(charges) > 1:
        raise WhichCharge(charges)
    return charges[0]


def refund_order(
    order: Order, amount: Money, key: str, gateway: Gateway, now: datetime, *, by: Actor, charge_reference: str = ""
) -> Refund:
    """Give back ``amount`` of a charge of the order; what became of it stands in the refund that is returned.

    One that is pending is not known yet, and is asked about again by the clock. The same key repeats nothing. Raises
    ``NoSuchCharge``, ``WhichCharge``, ``LessLeft`` and ``KeyOfAnother``; nothing is asked of the gateway then.
    """
    with transaction.atomic():
        refund = begin_refund(charge_to_refund(order, charge_reference), amount, key, now, by=by)
    if refund.state == Refund.State.PENDING:
        bring_refund_to_its_end(refund, gateway, now)
    return refund


def bring_refund_to_its_end(refund: Refund, gateway: Gateway, now: datetime) -> bool:
    """Ask what becomes of a pending refund, and say whether it came to its end. Outside of any transaction."""
    answer = call_refund(gateway, refund)
    if answer is None:
        return False
    conclude_refund(refund, answer, now)
    return True


@transaction.atomic
def conclude_refund(refund: Refund, answer: RefundAnswer, now: datetime) -> None:
    """Record what the gateway said of a refund, once."""
    if not record_refund(refund, answer, now):
        refund.refresh_from_db()
        return
    order = Order.objects.get(checkout__dues__attempts=refund.charge_id)
    done = refund.state == Refund.State.DONE
    told = MoneyReturned if done else RefundFailed
    by = Actor(cast(ActorKind, refund.by), refund.by_name, refund.user_id)
    write(told(refund.amount_minor, refund.currency), about(order), now, by)
    event = "refunded" if done else "refund refused"
    log = logger.bind(order=order.number, business=order.business_id, rehearsal=order.rehearsal, reason=refund.reason)
    transaction.on_commit(partial(log.info, event))
