"""Pausing and resuming."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from cravik.core.english import instant_words
from cravik.links.bench.parts.instants import instant_field, instant_typed
from cravik.links.life import lifecycle
from cravik.links.many.base import ManyAct, NotDone
from cravik.links.models import Link
from cravik.people.actors import Actor
from cravik.people.models import Business


class PauseAct(ManyAct):
    name = "pause"
    title = "Pause"
    verb = "Pause them"
    done = "paused"

    def words_of(self, link: Link) -> str:
        if link.state != Link.State.LIVE:
            raise NotDone.of("not_in_that_state", state=link.state)
        return "live → paused"

    def do(self, link: Link, by: Actor) -> None:
        lifecycle.pause(link, self.now, by=by)


class PauseUntilAct(ManyAct):
    name = "pause_until"
    title = "Pause until a day"
    verb = "Pause them until then"
    done = "paused"

    def __init__(self, business: Business, now: datetime, data: Any = None) -> None:
        super().__init__(business, now, data)
        field = instant_field("Until")
        field.required, field.error_messages["required"] = True, "Say until when."
        field.help_text = f"Then they are live again by themselves. Times are those of {business.time_zone}."
        self.fields = {"until": field}

    def clean(self) -> dict[str, Any]:
        typed = super().clean() or {}
        until = instant_typed(self.business.time_zone, typed.get("until"))
        typed["instant"] = datetime.fromisoformat(until) if until else None
        if typed["instant"] and typed["instant"] <= self.now:
            self.add_error("until", "That is over already.")
        return typed

    def words_of(self, link: Link) -> str:
        if link.state != Link.State.LIVE:
            raise NotDone.of("not_in_that_state", state=link.state)
        until = self.cleaned_data["instant"].astimezone(ZoneInfo(self.business.time_zone))
        return f"live → paused until {instant_words(until)}"

    def do(self, link: Link, by: Actor) -> None:
        lifecycle.pause(link, self.now, by=by, until=self.cleaned_data["instant"])


class ResumeAct(ManyAct):
    name = "resume"
    title = "Resume"
    verb = "Resume them"
    done = "live again"

    def words_of(self, link: Link) -> str:
        if link.state == Link.State.PAUSED or link.ended_why == Link.EndedWhy.BY_HAND:
            return f"{link.state} → live"
        why = link.get_ended_why_display()
        raise NotDone.of("not_in_that_state", state=link.state, why="ended_because" if why else "", ended_by=why)

    def do(self, link: Link, by: Actor) -> None:
        lifecycle.resume(link, self.now, by=by)
