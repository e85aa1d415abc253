"""Pausing and resuming."""

from __future__ import annotations

from cravik.links.life import lifecycle
from cravik.links.many.base import ManyAct, NotDone
from cravik.links.models import Link
from cravik.people.actors import Actor


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
