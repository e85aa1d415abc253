"""Recording attempts: the intent before anybody is asked for money, the answer after.

Asking stands between the two, outside any transaction. What was cut off in between stays pending, and is looked up.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from typing import NamedTuple

from django.db.models import CharField, DateTimeField, Q

from cravik.checkout.models import Checkout, CheckoutLine
from cravik.payments.gateway import Approved, Decided, Declined, NeverCharged
from cravik.payments.models import Allocation, Attempt, Due, Movement
from cravik.payments.ways.base import Means
from cravik.people.actors import Actor
from cravik.upkeep.prepared import Param, PreparedUpdate, insert


class AnotherUnderWay(Exception):
    """The checkout has an attempt that is pending or approved; ``attempt`` is that one."""

    def __init__(self, attempt: Attempt) -> None:
        super().__init__(f"It is already {attempt.state}.")
        self.attempt = attempt


class Begun(NamedTuple):
    """An attempt, and what of it is for which due."""

    attempt: Attempt
    allocations: Sequence[Allocation]


def earlier_attempt(attempts: Sequence[Attempt], key: str) -> Attempt | None:
    """The attempt of an earlier press with that key, if it was pressed before.

    ``attempts`` are those of the page so far. Raises ``AnotherUnderWay`` where another one is pending or approved.
    """
    if known := next((attempt for attempt in attempts if attempt.key == key), None):
        return known
    if under_way := next((attempt for attempt in attempts if attempt.state in Attempt.MAY_HAVE_PAID), None):
        raise AnotherUnderWay(under_way)
    return None


def begin_attempt(
    checkout: Checkout, sums: Mapping[Due, int], means: Means, key: str, now: datetime, *, by: Actor
) -> Begun:
    """Record that so much (in minor units) is about to be asked for each of the checkout's dues. In the transaction
    under way.

    No sum is above what is left of its due. The database refuses a due that another attempt may still pay.
    """
    over = [due.pk for due, minor in sums.items() if not 0 <= minor <= due.left.minor]
    if over or not sums:
        raise ValueError(f"more is asked for than is left of the dues {over}")
    attempt = insert(
        Attempt(
            checkout=checkout,
            way=means.way,
            key=key,
            details=means.details(),
            amount_minor=sum(sums.values()),
            currency=checkout.currency,
            by=by.kind,
            by_name=by.name,
            user_id=by.user_id,
            begun_at=now,
        )
    )
    allocations = [Allocation(attempt=attempt, due=due, amount_minor=minor) for due, minor in sums.items()]
    return Begun(attempt, [insert(each) for each in allocations])


def charge_moved(attempt: Attempt, checkout: Checkout, line: CheckoutLine, at: datetime) -> Movement:
    """What the ledger says of an approved attempt, not saved yet."""
    return Movement(
        checkout=checkout,
        attempt=attempt,
        kind=Movement.Kind.CHARGE,
        amount_minor=attempt.amount_minor,
        currency=attempt.currency,
        gateway_reference=attempt.gateway_reference,
        rehearsal=checkout.rehearsal,
        business_id=checkout.business_id,
        link_id=line.link_id,
        spot_id=line.spot_id,
        at=at,
    )


def leave_open(attempt: Attempt, now: datetime) -> None:
    """Note that nobody has decided, or that the answer was lost."""
    if attempt.left_open_at is None:
        attempt.left_open_at = now
        attempt.save(update_fields=["left_open_at"])


def note_detail(attempt: Attempt, name: str, value: str, now: datetime) -> None:
    """Write down what its way to pay knows by now; it is not decided."""
    attempt.details = {**attempt.details, name: value}
    attempt.left_open_at = attempt.left_open_at or now
    attempt.save(update_fields=["details", "left_open_at"])


def await_money(attempt: Attempt, until: datetime, now: datetime) -> None:
    """Note that the money was promised, and how long it is waited for."""
    attempt.awaited_until, attempt.left_open_at = until, attempt.left_open_at or now
    attempt.save(update_fields=["awaited_until", "left_open_at"])


_ANSWER = PreparedUpdate(
    lambda: Attempt.objects.filter(id=Param("attempt"), state=Attempt.State.PENDING),
    state=Param("state", CharField()),
    gateway_reference=Param("reference", CharField()),
    reason=Param("reason", CharField()),
    answered_at=Param("now", DateTimeField()),
)


_DECIDED = PreparedUpdate(lambda: Allocation.objects.filter(attempt_id=Param("attempt")), undecided=False)


def record_answer(attempt: Attempt, answer: Decided, now: datetime) -> bool:
    """Write the answer down, and whether this was the first to do so; ``attempt`` then carries it. In the transaction
    under way."""
    match answer:
        case Approved(reference=reference):
            state, reason = Attempt.State.APPROVED, ""
        case Declined(reference, why):
            state, reason = Attempt.State.DECLINED, str(why)
        case NeverCharged(called_off):
            state, reference, reason = Attempt.State.VOID, "", Attempt.CALLED_OFF if called_off else ""
    if not _ANSWER.run(attempt=attempt.pk, state=state, reference=reference, reason=reason, now=now):
        return False
    _DECIDED.run(attempt=attempt.pk)
    attempt.state, attempt.gateway_reference, attempt.reason, attempt.answered_at = state, reference, reason, now
    return True


def pending_since(before: datetime, now: datetime) -> list[Attempt]:
    """Attempts that began before then and have no answer, oldest first; not those whose money is waited for."""
    asked = Q(awaited_until__isnull=True) | Q(awaited_until__lte=now)
    pending = Attempt.objects.filter(asked, state=Attempt.State.PENDING, begun_at__lte=before)
    return list(pending.select_related("checkout").order_by("begun_at")[:500])


#: How long a request may still be waiting for an answer before its attempt counts as cut off.
CUT_OFF_AFTER = timedelta(seconds=30)
