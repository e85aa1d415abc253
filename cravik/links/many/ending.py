"""Letting many links end at the same day and hour."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from cravik.core.english import instant_words
from cravik.core.text.limits_words import distance_words
from cravik.links.bench.parts.instants import instant_field, instant_typed
from cravik.links.bench.saving import change_part
from cravik.links.many.base import NotDone, PublishingAct
from cravik.links.models import Link
from cravik.people.actors import Actor
from cravik.people.models import Business


class EndAtAct(PublishingAct):
    name = "end_at"
    title = "End at a day"
    verb = "Let them end then"
    done = "set to end"

    def __init__(self, business: Business, now: datetime, data: Any = None) -> None:
        super().__init__(business, now, data)
        field = instant_field("Ends")
        field.required, field.error_messages["required"] = True, "Say when."
        field.help_text = f"Times are those of {business.time_zone}. Who began to pay in time may finish."
        self.fields = {"closes_at": field, **self.fields}

    @property
    def closes(self) -> str:
        return instant_typed(self.business.time_zone, self.cleaned_data["closes_at"]) or ""

    def words_of(self, link: Link) -> str:
        limits = link.draft.get("limits", {})
        instant = datetime.fromisoformat(self.closes)
        opens = limits.get("opens_at")
        if opens and instant <= datetime.fromisoformat(opens):
            raise NotDone.of("ends_before_it_opens")
        closes = limits.get("closes_at")
        former = datetime.fromisoformat(closes) if closes else None
        if former == instant:
            raise NotDone.of("ends_then_already")
        before = f"ends {self._instant(former)}" if former else "no end"
        distance = distance_words(instant, self.now)
        return f"{before} → ends {self._instant(instant)}, {distance}{self.after_words(link)}"

    def do(self, link: Link, by: Actor) -> None:
        had_changes = link.has_unpublished_changes
        limits = {**(link.draft.get("limits") or {}), "closes_at": self.closes}
        changed = change_part(link, "limits", limits, link.revision, self.now, by=by).link
        self.publish(changed, by, had_changes=had_changes)

    def _instant(self, instant: datetime) -> str:
        return instant_words(instant.astimezone(ZoneInfo(self.business.time_zone)))
