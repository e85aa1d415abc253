"""What happens to what is decided once."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.events.kinds import of_kind
from cravik.events.writing import About, write
from cravik.people.actors import Actor


@of_kind("setting.changed")
@dataclass(frozen=True)
class SettingChanged:
    """``what`` it is called on screen; ``act`` in a word: changed, made, removed, …"""

    what: str
    act: str = "changed"

    def words(self) -> str:
        return f"{self.what[:1].upper()}{self.what[1:]} {self.act}"


def record(business_id: int, setting: str, what: str, now: datetime, by: Actor, act: str = "changed") -> None:
    """Write down what happened to a setting, by its short name. In the transaction under way."""
    write(SettingChanged(what, act), About(business_id, setting=setting), now, by)
