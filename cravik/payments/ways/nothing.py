"""Nothing is due: there is nobody to ask, and the order is made with the press."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Any, ClassVar

from cravik.payments.ways.base import Way
from cravik.setup.ways import NOTHING
from cravik.ui.timings import held_while_paying


@dataclass(frozen=True)
class NothingDue:
    way: ClassVar[str] = NOTHING

    def key(self, nonce: str) -> str:
        return ""

    def details(self) -> dict[str, Any]:
        return {}


class NothingWay(Way):
    name = NOTHING
    settles_at_once = True

    def means_of(self, submitted: None) -> NothingDue:
        return NothingDue()

    def hold(self) -> timedelta:
        return held_while_paying()
