"""How payments are."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db.models import Count, Min

from cravik.core.english import counted
from cravik.payments.models import Attempt
from cravik.ui.timings import called_off_after
from cravik.upkeep.health import Check, Measure


def payments(now: datetime) -> Check:
    """Whether the processor answers: how many payments have no answer yet, and for how long."""
    found = Attempt.objects.filter(state=Attempt.State.PENDING).aggregate(number=Count("id"), oldest=Min("begun_at"))
    age = max(now - found["oldest"], timedelta(0)) if found["oldest"] else timedelta(0)
    measures = [
        Measure("payments_undecided", found["number"], "Payments that have no answer yet"),
        Measure("payments_oldest_undecided_age_seconds", age.total_seconds(), "Since the oldest of them began"),
    ]
    is_well = age <= 2 * called_off_after()
    words = (
        f"{counted(found['number'], 'payment waits', 'payments wait')} for an answer."
        if found["number"]
        else "All are decided."
    )
    if not is_well:
        words += f" The oldest began {age.total_seconds() / 60:,.0f} minutes ago: the processor does not answer."
    return Check("payments", "Payments", is_well, words, measures)
