"""What a seller decided of later payments, and what held of it when a page was shown."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

from django.db import transaction

from cravik.core.link.running import USUAL_RULES, RunningRules, Stops, Then
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import record
from cravik.setup.models import RunningSettings
from cravik.setup.saving import ChangedElsewhere

_STOPS: dict[str, Stops] = {"now": "now", "period": "period", "ask": "ask"}
_THEN: dict[str, Then] = {"pause": "pause", "end": "end"}
_NEVER = datetime.min.replace(tzinfo=UTC)


def running_settings(business_id: int) -> RunningSettings:
    """What holds now; where nothing was decided, what holds without, not saved."""
    found = RunningSettings.objects.filter(business_id=business_id).order_by("-revision").first()
    return found or RunningSettings(business_id=business_id, decided_at=_NEVER)


def rules_at(business_id: int, instant: datetime) -> RunningRules:
    """What a buyer agrees to whose page was shown at the instant."""
    before = RunningSettings.objects.filter(business_id=business_id, decided_at__lte=instant)
    found = before.order_by("-revision").first()
    return rules_in(found) if found else USUAL_RULES


def rules_in(decided: RunningSettings) -> RunningRules:
    """A decision, saved or not, as rules."""
    return RunningRules(
        tries_after=tuple(decided.tries_after),
        then=_THEN[decided.then],
        stops=_STOPS[decided.stops],
        may_skip=decided.may_skip,
        may_pause=decided.may_pause,
        rest_is_charged=decided.rest == RunningSettings.Rest.CHARGED,
        tell_days=decided.tell_days,
        takes_each_time=decided.takes_each_time,
    )


def write_rules(rules: RunningRules) -> dict[str, Any]:
    """The rules as JSON."""
    return asdict(rules) | {"tries_after": list(rules.tries_after)}


def read_rules(written: dict[str, Any]) -> RunningRules:
    """What ``write_rules`` wrote; what holds without a decision where it wrote nothing."""
    return RunningRules(**written | {"tries_after": tuple(written["tries_after"])}) if written else USUAL_RULES


@transaction.atomic
def decide_running(decided: RunningSettings, seen: int, now: datetime, *, by: Actor) -> None:
    """Let the decision hold for whoever buys from now on. Raises ``ChangedElsewhere``."""
    Business.objects.select_for_update().get(id=decided.business_id)
    if running_settings(decided.business_id).revision != seen:
        raise ChangedElsewhere
    decided.pk, decided.revision, decided.decided_at = None, seen + 1, now
    decided.save(force_insert=True)
    record(decided.business_id, "running", "Later payments", now, by)
