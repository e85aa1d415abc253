"""How the mailroom is."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db.models import Count, Min, Q

from cravik.core.english import counted
from cravik.mailroom.models import Letter
from cravik.upkeep.health import Check, Measure

WAITS_TOO_LONG = timedelta(minutes=15)


def letters(now: datetime) -> Check:
    """Whether letters leave: how many wait, for how long, and how many could not be sent."""
    waits = Q(state__in=(Letter.State.WAITING, Letter.State.TAKEN))
    found = Letter.objects.filter(waits | Q(state=Letter.State.PARKED)).aggregate(
        waiting=Count("id", filter=waits), oldest=Min("written_at", filter=waits), parked=Count("id", filter=~waits)
    )
    age = max(now - found["oldest"], timedelta(0)) if found["oldest"] else timedelta(0)
    measures = [
        Measure("letters_waiting", found["waiting"], "Letters that wait to be sent"),
        Measure("letters_oldest_age_seconds", age.total_seconds(), "How long the oldest of them has waited"),
        Measure("letters_parked", found["parked"], "Letters that could not be sent and wait for their seller"),
    ]
    is_well = age <= WAITS_TOO_LONG and not found["parked"]
    words = f"{counted(found['waiting'], 'letter waits', 'letters wait')}." if found["waiting"] else "None waits."
    if age > WAITS_TOO_LONG:
        words = f"{words} The oldest has waited for {age.total_seconds() / 60:,.0f} minutes."
    if found["parked"]:
        words += f" {counted(found['parked'], 'letter', 'letters')} could not be sent: look at the Mailroom."
    return Check("letters", "Letters", is_well, words, measures)
