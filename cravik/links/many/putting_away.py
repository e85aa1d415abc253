"""Putting away."""

from __future__ import annotations

from cravik.links import putting_away
from cravik.links.many.base import ManyAct, NotDone
from cravik.links.models import Link
from cravik.people.actors import Actor


class PutAwayAct(ManyAct):
    name = "put_away"
    title = "Archive"
    verb = "Put them away"
    done = "archived"

    def words_of(self, link: Link) -> str:
        if link.put_away_at:
            raise NotDone.of("archived_already")
        is_open = link.state in (Link.State.LIVE, Link.State.PAUSED)
        return f"{link.state} → {'ended and ' if is_open else ''}archived"

    def do(self, link: Link, by: Actor) -> None:
        putting_away.put_away(link, self.now, by=by)
