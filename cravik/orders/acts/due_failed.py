"""A due of an order could not be collected, or the money that was promised for it did not come."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from cravik.events.writing import write, write_all
from cravik.orders.happened import DueFailed, NotPaidInTime, about
from cravik.orders.models import Order
from cravik.payments import dues
from cravik.payments.holding import release_all
from cravik.payments.models import Allocation, Attempt
from cravik.people.actors import CLOCK


def fail_dues(order: Order, attempt: Attempt, allocations: Sequence[Allocation], now: datetime) -> None:
    """What an attempt that was declined, or came to nothing, was for. In the transaction under way, in which the
    answer was recorded, so that it is done once.

    An order of which nothing was ever paid is over: it lets go of what it held, and nothing is owed for it any more. A
    due of any other has failed if it was declined; if nobody ever decided, it is open as before.
    """
    if order.paid_at is None:
        release_all(order.checkout_id)
        dues.cancel_dues(order.checkout_id)
        write(NotPaidInTime(), about(order), now, CLOCK)
    elif attempt.state == Attempt.State.DECLINED:
        dues.fail_dues([each.due for each in allocations], next_try_at=None)
        failed = (
            DueFailed(each.amount_minor, attempt.currency, each.due.position, attempt.reason) for each in allocations
        )
        write_all((what, about(order), now, attempt.actor) for what in failed)
