"""A due of what is paid over time is left out, let go, moved, lowered, added or refused."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime, timedelta

from django.db import transaction
from django.db.models import Max

from cravik.core.english import day_words
from cravik.core.pricing.money import Money
from cravik.core.text.money_text import format_money_clearly
from cravik.events.writing import write
from cravik.mailroom.services import queue_letters
from cravik.orders.acts.plan_paused import NotRunning, locked_agreement
from cravik.orders.happened import about
from cravik.orders.happened_over_time import DueChanged
from cravik.orders.models import Order
from cravik.orders.over_time_letters import letter_of_change, next_words, notices_of_change
from cravik.payments import dues
from cravik.payments.agreements import go_on_with_agreement
from cravik.payments.models import Agreement, Due
from cravik.people.actors import Actor
from cravik.upkeep.prepared import insert

_ALIVE = (Agreement.State.RUNNING, Agreement.State.PAUSED)
#: How many days before it is charged a buyer is told of a sum of its own, at least.
TOLD_BEFORE = timedelta(days=2)


class NoSuchDue(Exception):
    """It is not among the order's unpaid dues, or not of the kind that this can be done to."""


class OutOfBounds(Exception):
    """The sum or the day is not among those that are possible."""


@transaction.atomic
def skip(order: Order, position: int, now: datetime, *, by: Actor) -> None:
    """Leave out a payment of what repeats. Raises ``NotRunning``, ``NoSuchDue`` and ``DueBeingPaid``."""
    agreement = locked_agreement(order, *_ALIVE)
    if not agreement.repeats:
        raise NotRunning
    due = _unpaid(order, position)
    dues.skip_due(due)
    _tell(order, agreement, due, "skipped", "a payment is skipped", "skipped a payment", now, by)


@transaction.atomic
def waive(order: Order, position: int, now: datetime, *, by: Actor) -> None:
    """Ask for what is left of a due no more. Raises ``NotRunning``, ``NoSuchDue`` and ``DueBeingPaid``."""
    agreement = locked_agreement(order, *_ALIVE)
    due = _unpaid(order, position)
    dues.waive_due(due)
    _tell(order, agreement, due, "waived", "a payment is waived", "", now, by)


@transaction.atomic
def move(order: Order, position: int, to: date, today: date, now: datetime, *, by: Actor) -> None:
    """Let a due fall on another day, today or later. Raises ``NotRunning``, ``NoSuchDue``, ``OutOfBounds`` and
    ``DueBeingPaid``."""
    agreement = locked_agreement(order, *_ALIVE)
    due = _unpaid(order, position)
    if not today <= to <= today + timedelta(days=366 * 2):
        raise OutOfBounds
    dues.change_due(due, to, due.amount_minor)
    _tell(order, agreement, due, "moved", "a payment is on another day", "", now, by)


@transaction.atomic
def lower(order: Order, position: int, to: Money, now: datetime, *, by: Actor) -> None:
    """Ask for less than was agreed. Raises ``NotRunning``, ``NoSuchDue``, ``OutOfBounds`` and ``DueBeingPaid``."""
    agreement = locked_agreement(order, *_ALIVE)
    due = _unpaid(order, position)
    if not due.paid_minor < to.minor < due.amount_minor:
        raise OutOfBounds
    dues.change_due(due, due.on, to.minor)
    _tell(order, agreement, due, "lowered", "a payment is lower", "", now, by)


@transaction.atomic
def agree_on(order: Order, amount: Money, reason: str, on: date, today: date, now: datetime, *, by: Actor) -> Due:
    """Charge a sum of its own to the kept card on that day; the buyer is told at once, and can say no until then.
    Raises ``NotRunning`` and ``OutOfBounds``."""
    agreement = locked_agreement(order, Agreement.State.RUNNING)
    if agreement.kept_card is None:
        raise NotRunning
    if amount.minor <= 0 or not reason or not today + TOLD_BEFORE <= on <= today + timedelta(days=366):
        raise OutOfBounds
    last = Due.objects.filter(checkout=order.checkout_id).aggregate(last=Max("position"))["last"] or 0
    due = insert(
        Due(
            checkout_id=order.checkout_id,
            position=max(last + 1, _OWN_FROM),
            on=on,
            collect_on=on,
            tell_on=today,
            amount_minor=amount.minor,
            currency=amount.currency,
            reason=reason,
        )
    )
    _write(order, due, "agreed", now, by, reason)
    return due


@transaction.atomic
def refuse(order: Order, position: int, today: date, now: datetime, *, by: Actor) -> None:
    """The buyer says no to a sum of its own before its day. Raises ``NotRunning``, ``NoSuchDue`` and
    ``DueBeingPaid``."""
    agreement = locked_agreement(order, *_ALIVE)
    due = _unpaid(order, position)
    if not due.reason or due.on <= today:
        raise NoSuchDue
    dues.drop_due(due)
    _tell(order, agreement, due, "refused", "a sum is not taken", "said no to a sum", now, by)


def _unpaid(order: Order, position: int) -> Due:
    there = Due.objects.select_for_update().filter(checkout=order.checkout_id, position=position, position__gt=0)
    due = there.filter(state__in=Due.UNPAID).first()
    if due is None:
        raise NoSuchDue
    return due


def _write(order: Order, due: Due, act: str, now: datetime, by: Actor, why: str = "") -> None:
    write(DueChanged(act, due.amount_minor, due.currency, due.position, due.on.isoformat(), why), about(order), now, by)


def _tell(
    order: Order, agreement: Agreement, due: Due, act: str, what: str, they: str, now: datetime, by: Actor
) -> None:
    _write(order, due, act, now, by)
    go_on_with_agreement(agreement, order.checkout, now)
    occasion = f"{act}-{due.pk}-{now:%Y%m%dT%H%M%S}"
    said = _SENTENCES[act](due)
    letters = [letter_of_change(order, occasion, what, said, next_words(order.checkout_id))]
    if by.kind == "buyer":
        letters += notices_of_change(order, occasion, they, said)
    queue_letters(order.business, letters, now)


def _sum(due: Due) -> str:
    return format_money_clearly(due.amount)


_SENTENCES: dict[str, Callable[[Due], str]] = {
    "skipped": lambda due: f"{_sum(due)} on {day_words(due.on)} is left out, and not made up for.",
    "waived": lambda due: f"{_sum(due)} on {day_words(due.on)} is not asked for any more.",
    "moved": lambda due: f"{_sum(due)} is due on {day_words(due.on)} now.",
    "lowered": lambda due: f"{_sum(due)} is due on {day_words(due.on)}; it was more before.",
    "refused": lambda due: f"{_sum(due)} on {day_words(due.on)} is not taken: {due.reason}",
}
#: Sums of their own stand behind whatever the plan may ever list.
_OWN_FROM = 10_000
