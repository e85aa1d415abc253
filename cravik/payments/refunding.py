"""Recording refunds: the intent before the gateway is called, the answer after, as with attempts.

What was cut off in between stays pending. The gateway gives the same answer to the same key for ever, so it is asked
once more with the key, and never pays back twice.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime

from django.db.models import F

from cravik.core.pricing.money import Money
from cravik.core.pricing.refunds import RefundShares
from cravik.payments.gateway import Refunded
from cravik.payments.models import Attempt, Movement, Refund
from cravik.payments.ways.base import RefundAnswer, RefundRefused
from cravik.people.actors import Actor


class LessLeft(Exception):
    """Less of the charge is ``left`` than was to be given back."""

    def __init__(self, left: Money) -> None:
        super().__init__(f"{left.major} {left.currency} of it is left to give back.")
        self.left = left


class RefundedMeanwhile(Exception):
    """Something was given back since whoever asks saw how much is ``left``."""

    def __init__(self, left: Money) -> None:
        super().__init__("Something was given back meanwhile.")
        self.left = left


class KeyOfAnother(Exception):
    """The key stands for another refund."""

    def __init__(self, key: str) -> None:
        super().__init__(f"The key {key} stands for another refund.")


@dataclass(frozen=True)
class RefundDraft:
    """A refund before it is recorded: ``amount`` in all, made of ``shares``; the rest as the table says."""

    amount: Money
    shares: RefundShares | None = None
    pieces: Mapping[str, int] = field(default_factory=dict)
    fee: Money | None = None
    note: str = ""
    why: str = ""
    restocks: bool = False
    frees_places: bool = False


def shares_document(shares: RefundShares | None) -> dict[str, object]:
    """As it is kept."""
    return {"lines": dict(shares.lines), "delivery": shares.delivery, "cover": shares.cover} if shares else {}


def left_to_refund(charge: Attempt) -> Money:
    return Money(charge.amount_minor - charge.refunded_minor, charge.currency)


def begin_refund(
    charge: Attempt,
    draft: RefundDraft,
    key: str,
    now: datetime,
    *,
    by: Actor,
    seen_left: Money | None = None,
) -> Refund:
    """Record that so much of the approved charge is about to be given back. In the transaction under way.

    ``seen_left`` is what was left when the refund was decided. With the key of an earlier one, that is returned. Raises
    ``KeyOfAnother`` where it was of another charge or sum, ``LessLeft``, and ``RefundedMeanwhile`` where something else
    than ``seen_left`` is left.
    """
    amount = draft.amount
    if known := Refund.objects.select_for_update().filter(key=key).first():
        if (known.charge_id, known.amount) != (charge.pk, amount):
            raise KeyOfAnother(key)
        return known
    room = Attempt.objects.filter(
        id=charge.pk,
        state=Attempt.State.APPROVED,
        currency=amount.currency,
        refunded_minor__lte=F("amount_minor") - amount.minor,
    )
    if seen_left is not None:
        room = room.filter(refunded_minor=F("amount_minor") - seen_left.minor)
    if amount.minor <= 0 or not room.update(refunded_minor=F("refunded_minor") + amount.minor):
        charge.refresh_from_db()
        left = left_to_refund(charge)
        raise LessLeft(left) if seen_left in (None, left) else RefundedMeanwhile(left)
    return Refund.objects.create(
        charge=charge,
        key=key,
        note=draft.note,
        why=draft.why,
        shares=shares_document(draft.shares),
        pieces=dict(draft.pieces),
        fee_minor=draft.fee.minor if draft.fee else 0,
        restocks=draft.restocks,
        frees_places=draft.frees_places,
        amount_minor=amount.minor,
        currency=amount.currency,
        by=by.kind,
        by_name=by.name,
        user_id=by.user_id,
        begun_at=now,
    )


def record_refund_answer(refund: Refund, answer: RefundAnswer, now: datetime) -> bool:
    """Write the answer down, and whether this was the first to do so: the ledger gets its line, or the charge what was
    taken from it. In the transaction under way."""
    done = isinstance(answer, Refunded)
    reference = answer.reference if isinstance(answer, Refunded) else ""
    reason = answer.reason if isinstance(answer, RefundRefused) else ""
    state = Refund.State.DONE if done else Refund.State.REFUSED
    pending = Refund.objects.filter(id=refund.pk, state=Refund.State.PENDING)
    if not pending.update(state=state, reason=reason, gateway_reference=reference, answered_at=now):
        return False
    refund.state, refund.reason, refund.gateway_reference, refund.answered_at = state, reason, reference, now
    if done:
        _money_went_back(refund, now)
    else:
        Attempt.objects.filter(id=refund.charge_id).update(refunded_minor=F("refunded_minor") - refund.amount_minor)
    return True


def pending_refunds(before: datetime) -> list[Refund]:
    """Those that began before then and have no answer, oldest first."""
    pending = Refund.objects.filter(state=Refund.State.PENDING, begun_at__lte=before)
    return list(pending.select_related("charge__checkout").order_by("begun_at")[:500])


def _money_went_back(refund: Refund, now: datetime) -> None:
    charged = Movement.objects.get(attempt=refund.charge_id)
    Movement.objects.create(
        checkout_id=charged.checkout_id,
        refund=refund,
        undoes=charged,
        kind=Movement.Kind.REFUND,
        amount_minor=-refund.amount_minor,
        currency=refund.currency,
        gateway_reference=refund.gateway_reference,
        rehearsal=charged.rehearsal,
        business_id=charged.business_id,
        link_id=charged.link_id,
        spot_id=charged.spot_id,
        at=now,
    )
