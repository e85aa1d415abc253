"""Recording attempts: the intent before the gateway is called, the answer after.

The call itself stands between the two, outside any transaction. What was cut off in between
stays pending, and ``look_up_attempt`` looks it up.
"""

from __future__ import annotations

import hmac
from collections.abc import Sequence
from datetime import datetime, timedelta

import structlog
from django.conf import settings
from django.db.models import CharField, DateTimeField

from cravik.checkout.models import Checkout, CheckoutLine
from cravik.payments.gateway import (
    Answer,
    AnswerLost,
    Approved,
    Card,
    Charge,
    Decided,
    Declined,
    Gateway,
    GatewayTrouble,
    NeverCharged,
)
from cravik.payments.models import Attempt, Due, Movement
from cravik.upkeep.prepared import Param, PreparedUpdate, insert

logger = structlog.stdlib.get_logger("cravik.payments")


class AnotherUnderWay(Exception):
    """The due has an attempt that is pending or approved; ``attempt`` is that one."""

    def __init__(self, attempt: Attempt) -> None:
        super().__init__(f"The due is already {attempt.state}.")
        self.attempt = attempt


def attempt_key(nonce: str, card: Card) -> str:
    """The idempotency key of pressing the button of one page with one card.

    The same press with the same card is the same attempt, whatever carries it here twice; another
    card is another attempt. Keyed with the installation's secret, so the card cannot be got back.
    """
    secret = "\0".join((nonce, card.number, *map(str, card.expiry), card.security_code))
    return hmac.digest(settings.SECRET_KEY.encode(), secret.encode(), "sha256").hex()


def earlier_attempt(attempts: Sequence[Attempt], key: str) -> Attempt | None:
    """The attempt of an earlier press with that key, if it was pressed before.

    ``attempts`` are those of the due so far. Raises ``AnotherUnderWay`` where another one is pending or approved; the
    database would refuse it as well.
    """
    if known := next((attempt for attempt in attempts if attempt.key == key), None):
        return known
    if under_way := next((attempt for attempt in attempts if attempt.state in Attempt.OPEN_STATES), None):
        raise AnotherUnderWay(under_way)
    return None


def begin_attempt(due: Due, key: str, card_ending: str, now: datetime) -> Attempt:
    """Record that the due is about to be charged."""
    return insert(
        Attempt(
            due=due,
            key=key,
            card_ending=card_ending,
            amount_minor=due.amount_minor,
            currency=due.currency,
            begun_at=now,
        )
    )


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


def call_gateway(
    gateway: Gateway, attempt: Attempt, checkout: Checkout, card: Card, statement_text: str, return_address: str
) -> Answer | None:
    """Charge the attempt. None where nobody can say yet; it stays pending and is looked up later."""
    charge = Charge(
        key=attempt.key,
        account=f"business-{checkout.business_id}",
        amount=attempt.amount,
        card=card,
        statement_text=statement_text,
        rehearsal=checkout.rehearsal,
        return_address=return_address,
    )
    try:
        return gateway.charge(charge)
    except AnswerLost:
        logger.warning("the gateway's answer was lost")
        return None
    except GatewayTrouble as trouble:
        logger.warning("the gateway did not take the charge", trouble=type(trouble).__name__)
        return look_up_attempt(gateway, attempt)


def look_up_attempt(gateway: Gateway, attempt: Attempt) -> Answer | None:
    """What became of a pending attempt, or None where the gateway does not say."""
    try:
        return gateway.look_up(attempt.key)
    except GatewayTrouble:
        return None


def call_off_attempt(gateway: Gateway, attempt: Attempt) -> Decided | None:
    """End a pending attempt, so that nothing more comes of it; None where the gateway does not say."""
    try:
        return gateway.call_off(attempt.key)
    except GatewayTrouble:
        return None


def wait_for_check(attempt: Attempt, address: str, now: datetime) -> None:
    """Note that the card's bank asks the buyer there before it decides."""
    attempt.check_address = address
    attempt.left_open_at = attempt.left_open_at or now
    attempt.save(update_fields=["check_address", "left_open_at"])


def leave_open(attempt: Attempt, now: datetime) -> None:
    """Note that the gateway has not decided, or that its answer was lost."""
    if attempt.left_open_at is None:
        attempt.left_open_at = now
        attempt.save(update_fields=["left_open_at"])


_ANSWER = PreparedUpdate(
    lambda: Attempt.objects.filter(id=Param("attempt"), state=Attempt.State.PENDING),
    state=Param("state", CharField()),
    gateway_reference=Param("reference", CharField()),
    reason=Param("reason", CharField()),
    answered_at=Param("now", DateTimeField()),
)


def record_answer(attempt: Attempt, answer: Decided, now: datetime) -> bool:
    """Write the answer down, and whether this was the first to do so; ``attempt`` then carries it."""
    match answer:
        case Approved(reference):
            state, reason = Attempt.State.APPROVED, ""
        case Declined(reference, why):
            state, reason = Attempt.State.DECLINED, str(why)
        case NeverCharged(called_off):
            state, reference, reason = Attempt.State.VOID, "", Attempt.CALLED_OFF if called_off else ""
    if not _ANSWER.run(attempt=attempt.pk, state=state, reference=reference, reason=reason, now=now):
        return False
    attempt.state, attempt.gateway_reference, attempt.reason, attempt.answered_at = state, reference, reason, now
    return True


def pending_since(before: datetime) -> list[Attempt]:
    """Attempts that began before then and have no answer, oldest first."""
    pending = Attempt.objects.filter(state=Attempt.State.PENDING, begun_at__lte=before)
    return list(pending.select_related("due__checkout").order_by("begun_at")[:500])


#: How long a request may still be waiting for the gateway before its attempt counts as cut off.
CUT_OFF_AFTER = timedelta(seconds=30)
