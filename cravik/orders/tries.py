"""What a seller reads of each try to pay for an order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from cravik.core.pricing.money import Money
from cravik.orders.models import Order
from cravik.payments.models import Attempt
from cravik.payments.ways import paid_with_words

REASONS: Mapping[str, str] = {
    "insufficient_funds": "declined: there was not enough money on the card",
    "refused_by_bank": "declined: the bank gave no reason",
    "expired_card": "declined: the card has expired",
    "wrong_security_code": "declined: the security code did not match",
    "limit_reached": "declined: the card's limit for that day was reached",
    "unknown_card": "declined: the processor doesn't know the card",
    "check_failed": "declined: the bank asked whether it was the buyer, and the answer was no",
    "check_given_up": "declined: the bank's question was left unanswered",
    Attempt.CALLED_OFF: "called off: nobody decided in time",
}
_STATES: Mapping[str, str] = {
    Attempt.State.PENDING: "waits for an answer",
    Attempt.State.APPROVED: "paid",
    Attempt.State.DECLINED: "declined, without a reason that we know",
    Attempt.State.VOID: "not charged",
}


@dataclass(frozen=True)
class Try:
    """When it was begun, how much was asked for and of what, and in words what became of it."""

    at: datetime
    amount: Money
    paid_with: str
    words: str


def tries_of(order: Order) -> list[Try]:
    """Oldest first; none where each was paid, since what happened says so."""
    attempts = sorted(order.checkout.attempts.all(), key=lambda each: each.pk)
    if all(each.state == Attempt.State.APPROVED for each in attempts):
        return []
    return [Try(each.begun_at, each.amount, paid_with_words(each), words_of_try(each)) for each in attempts]


def words_of_try(attempt: Attempt) -> str:
    """What became of it."""
    return REASONS.get(attempt.reason) or _STATES[attempt.state]
