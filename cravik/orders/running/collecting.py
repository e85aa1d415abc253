"""Collecting what is due later of an order: with the card that its buyer let be kept for it, or what they pay with now.

As careful as a first payment: recorded with its key, asked for outside any transaction, written down once. What was
cut off in between is pending, and is brought to its end by ``reconcile``.
"""

from __future__ import annotations

from collections.abc import Iterable

from django.db import transaction

from cravik.core.pricing.money import Money
from cravik.orders.models import Order
from cravik.orders.own_page import mailed_payments_path
from cravik.orders.paying.conclude import take_answer
from cravik.payments.dues import DueBeingPaid
from cravik.payments.models import Agreement, Allocation, Attempt, Due, KeptCard
from cravik.payments.services import begin_attempt, leave_open
from cravik.payments.ways import Ways, way_of
from cravik.payments.ways.base import Asking, Means, account_of
from cravik.payments.ways.card import CardMeans, KeptCardMeans
from cravik.people.actors import BUYER, Actor
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
    means: Means | None = None,
) -> Attempt:
    """Charge what is left of the order's dues at those positions, or ``amount`` of it, the first due first; with
    ``means``, which are kept from then on, or with the card that was kept.

    What became of it stands in the attempt that is returned; one that is pending is not known yet. The same key
    charges nothing twice. Raises ``NothingToCollect``, ``AboveWhatIsLeft``, ``DueBeingPaid`` and
    ``KeyOfAnotherCharge``; nobody is asked then.
    """
    with transaction.atomic():
        if known := Attempt.objects.select_for_update().filter(key=key).first():
            if known.checkout_id != order.checkout_id:
                raise KeyOfAnotherCharge
            return known
        dues = Due.objects.select_for_update().filter(checkout=order.checkout_id, position__in=list(positions))
        unpaid = [due for due in dues.order_by("position") if due.state in Due.UNPAID]
        used = means or _kept_card(order)
        if used is None or not unpaid:
            raise NothingToCollect
        if Allocation.objects.filter(due__in=unpaid, undecided=True).exists():
            raise DueBeingPaid
        attempt, _ = begin_attempt(order.checkout, _shared(unpaid, amount), used, key, clock(), by=by)
    return ask(order, attempt, used, ways, clock, keep=means is not None)


def ask(order: Order, attempt: Attempt, means: Means, ways: Ways, clock: Clock, *, keep: bool) -> Attempt:
    """Ask for what was recorded, and write the answer down."""
    asking = Asking(
        account=account_of(order.business_id),
        statement_text=order.checkout.contact["statement_text"],
        rehearsal=order.rehearsal,
        return_address=mailed_payments_path(order.checkout.reference),
        keep=keep,
        at=clock(),
    )
    answer = way_of(ways, attempt).ask(attempt, means, asking)
    if answer is not None:
        take_answer(attempt, answer, clock())
    else:
        leave_open(attempt, clock())
    return attempt


def keep_another_card(order: Order, means: CardMeans, key: str, ways: Ways, clock: Clock) -> Attempt:
    """Ask for nothing with the card, so that it is the one that is kept from then on. Raises ``KeyOfAnotherCharge``."""
    with transaction.atomic():
        if known := Attempt.objects.select_for_update().filter(key=key).first():
            if known.checkout_id != order.checkout_id:
                raise KeyOfAnotherCharge
            return known
        first = Due.objects.get(checkout=order.checkout_id, position=0)
        if Allocation.objects.filter(due=first, undecided=True).exists():
            raise DueBeingPaid
        attempt, _ = begin_attempt(order.checkout, {first: 0}, means, key, clock(), by=BUYER)
    return ask(order, attempt, means, ways, clock, keep=True)


def _kept_card(order: Order) -> KeptCardMeans | None:
    """The card of the agreement that runs, or is paused."""
    alive = (Agreement.State.RUNNING, Agreement.State.PAUSED)
    running = Agreement.objects.filter(checkout=order.checkout_id, state__in=alive)
    agreement = running.select_for_update().first()
    kept: KeptCard | None = agreement.kept_card if agreement else None
    return KeptCardMeans(kept) if kept else None


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
