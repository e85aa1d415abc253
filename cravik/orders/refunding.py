"""Money goes back: recorded, asked for, written down. Each step is safe to repeat."""

from __future__ import annotations

from django.db import transaction

from cravik.core.pricing.money import Money
from cravik.orders.acts.money_returned import return_money
from cravik.orders.models import Order
from cravik.payments.models import Attempt, Refund
from cravik.payments.refunding import begin_refund
from cravik.payments.ways import Ways, way_of
from cravik.people.actors import Actor
from cravik.ui.timings import Clock


class NoSuchCharge(Exception):
    """The order has no approved charge of that reference."""


class WhichCharge(Exception):
    """The order was paid by several ``charges``; one has to be named."""

    def __init__(self, charges: list[Attempt]) -> None:
        super().__init__("The order was paid by several charges: name one of them.")
        self.charges = charges


def charges_of(order: Order) -> list[Attempt]:
    """The approved charges of the order, the first one first."""
    approved = Attempt.objects.filter(checkout=order.checkout_id, state=Attempt.State.APPROVED, amount_minor__gt=0)
    return list(approved.order_by("id"))


def refunds_of(order: Order) -> list[Refund]:
    """Every refund of the order, the first one first, whatever became of it."""
    return list(Refund.objects.filter(charge__checkout=order.checkout_id))


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
    order: Order,
    amount: Money,
    key: str,
    ways: Ways,
    clock: Clock,
    *,
    by: Actor,
    charge_reference: str = "",
    note: str = "",
    seen_left: Money | None = None,
) -> Refund:
    """Give back ``amount`` of a charge of the order; what became of it stands in the refund that is returned.

    ``note`` and ``seen_left`` as in ``begin_refund``. One that is pending is not known yet, and is asked about again by
    the clock. The same key repeats nothing. Raises ``NoSuchCharge``, ``WhichCharge``, ``LessLeft``,
    ``RefundedMeanwhile`` and ``KeyOfAnother``; nobody is asked then.
    """
    with transaction.atomic():
        charge = charge_to_refund(order, charge_reference)
        refund = begin_refund(charge, amount, key, clock(), by=by, note=note, seen_left=seen_left)
    if refund.state == Refund.State.PENDING:
        ask_about_refund(refund, ways, clock)
    return refund


def ask_about_refund(refund: Refund, ways: Ways, clock: Clock) -> bool:
    """Ask what becomes of a pending refund, and say whether it came to its end. Outside of any transaction."""
    answer = way_of(ways, refund.charge).refund(refund)
    if answer is None:
        return False
    return_money(refund, answer, clock())
    return True
