"""Collecting what is due later of an order, with the card that its buyer let be kept for it.

As careful as a first payment: recorded with its key, asked for outside any transaction, written down once. What was
cut off in between is pending, and is brought to its end by ``reconcile``.
"""

from __future__ import annotations

from collections.abc import Iterable

from django.db import transaction

from cravik.core.pricing.money import Money
from cravik.orders.models import Order
from cravik.orders.paying.conclude import take_answer
from cravik.payments.dues import DueBeingPaid
from cravik.payments.models import Agreement, Allocation, Attempt, Due, KeptCard
from cravik.payments.services import begin_attempt, leave_open
from cravik.payments.ways import Ways, way_of
from cravik.payments.ways.base import Asking, account_of
from cravik.payments.ways.card import KeptCardMeans
from cravik.people.actors import Actor
from cravik.ui.timings import Clock


class NothingToCollect(Exception):
    """None of the dues is unpaid, or nothing was agreed by which they could be collected."""


class AboveWhatIsLeft(Exception):
    """More was asked for than is ``left`` of the dues."""

    def __init__(self, left: Money) -> None:
        super().__init__(f"{left.major} {left.currency} are left of it.")
        self.left = left


class KeyOfAnotherCharge(Exception):
    """The key stands for another charge."""


def collect(
    order: Order,
    positions: Iterable[int],
    key: str,
    ways: Ways,
    clock: Clock,
    *,
    by: Actor,
    amount: Money | None = None,
) -> Attempt:
    """Charge what is left of the order's dues at those positions, or ``amount`` of it, the first due first.

    What became of it stands in the attempt that is returned; one that is pending is not known yet. The same key
    charges nothing twice. Raises ``NothingToCollect``, ``AboveWhatIsLeft``, ``DueBeingPaid`` and
    ``KeyOfAnotherCharge``; nobody is asked then.
    """
    with transaction.atomic():
        if known := Attempt.objects.select_for_update().filter(key=key).first():
            if known.checkout_id != order.checkout_id:
                raise KeyOfAnotherCharge
            return known
        kept = _kept_card(order)
        dues = Due.objects.select_for_update().filter(checkout=order.checkout_id, position__in=list(positions))
        unpaid = [due for due in dues.order_by("position") if due.state in Due.UNPAID]
        if kept is None or not unpaid:
            raise NothingToCollect
        if Allocation.objects.filter(due__in=unpaid, undecided=True).exists():
            raise DueBeingPaid
        means = KeptCardMeans(kept)
        attempt, _ = begin_attempt(order.checkout, _shared(unpaid, amount), means, key, clock(), by=by)
    asking = Asking(
        account=account_of(order.business_id),
        statement_text=order.checkout.contact["statement_text"],
        rehearsal=order.rehearsal,
        return_address=order.checkout.path,
    )
    answer = way_of(ways, attempt).ask(attempt, means, asking)
    if answer is not None:
        take_answer(attempt, answer, clock())
    else:
        leave_open(attempt, clock())
    return attempt


def _kept_card(order: Order) -> KeptCard | None:
    """The card of the agreement that runs."""
    running = Agreement.objects.filter(checkout=order.checkout_id, state=Agreement.State.RUNNING)
    agreement = running.select_for_update().first()
    return agreement.kept_card if agreement else None


def _shared(dues: list[Due], amount: Money | None) -> dict[Due, int]:
    """How much of the amount is for which due: each is met before the next."""
    left = sum(due.left.minor for due in dues)
    wanted = left if amount is None else amount.minor
    if not 0 < wanted <= left:
        raise AboveWhatIsLeft(Money(left, dues[0].currency))
    sums: dict[Due, int] = {}
    for due in dues:
        if wanted > 0:
            sums[due] = min(wanted, due.left.minor)
            wanted -= sums[due]
    return sums
