"""Who did something: a member of the business, the buyer, the clock, or a command."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from cravik.people.models import User

ActorKind = Literal["member", "buyer", "clock", "command"]


@dataclass(frozen=True)
class Actor:
    """``name`` is a member's as it is now, or the command's; ``user_id`` a member's."""

    kind: ActorKind
    name: str = ""
    user_id: int | None = None


#: Whoever pays, or stands on a buyer's page; which buyer, the event says.
BUYER = Actor("buyer")
#: Timed work.
CLOCK = Actor("clock")


def member(user: User) -> Actor:
    return Actor("member", user.name or user.email, user.pk)


def command(name: str) -> Actor:
    """Whoever typed the command of that name, on the installation's own machine."""
    return Actor("command", name)
