"""What the counter's made-up banks decide afterwards: by what their customer says, or in their own time."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.payments.counter.models import CounterCharge, CounterEntry, CounterNotice
from cravik.payments.gateway import DeclineReason

Outcome = CounterCharge.Outcome


def tell(charge: CounterCharge) -> None:
    """Let what was decided be told without being asked."""
    CounterNotice.objects.create(charge=charge)


@transaction.atomic
def answer_check(reference: str, reason: DeclineReason | None, now: datetime) -> bool:
    """The bank has asked its customer: it approves, or declines for the reason. Whether that was still open."""
    open_ones = CounterCharge.objects.select_for_update().filter(outcome=Outcome.OPEN, check_wanted=True)
    charge = open_ones.filter(reference=reference).first()
    if charge is None:
        return False
    charge.outcome, charge.reason = (Outcome.DECLINED, reason) if reason else (Outcome.APPROVED, "")
    charge.decided_at = now
    charge.save(update_fields=["outcome", "reason", "decided_at"])
    CounterEntry.objects.create(charge=charge, what=f"the bank asked its customer: {reason or 'approved'}", at=now)
    tell(charge)
    return True


def approve_what_is_due(now: datetime) -> None:
    """Let the banks that answer late do so, each once."""
    due = CounterCharge.objects.filter(outcome=Outcome.OPEN, approves_at__lte=now)
    if not due.exists():
        return
    with transaction.atomic():
        for charge in due.select_for_update():
            charge.outcome, charge.decided_at = Outcome.APPROVED, now
            charge.save(update_fields=["outcome", "decided_at"])
            CounterEntry.objects.create(charge=charge, what="the bank answered late: approved", at=now)
            tell(charge)
