"""Archiving."""

from __future__ import annotations

from cravik.links.life import archiving
from cravik.links.many.base import ManyAct, NotDone
from cravik.links.models import Link
from cravik.people.actors import Actor


class ArchiveAct(ManyAct):
    name = "archive"
    title = "Archive"
    verb = "Put them away"
    done = "archived"

    def words_of(self, link: Link) -> str:
        if link.archived_at:
            raise NotDone.of("archived_already")
        is_open = link.state in (Link.State.LIVE, Link.State.PAUSED)
        return f"{link.state} → {'ended and ' if is_open else ''}archived"

    def do(self, link: Link, by: Actor) -> None:
        archiving.archive(link, self.now, by=by)
