"""What can keep a change from being saved, whatever it is a change of."""

from __future__ import annotations

from cravik.core.errors import Fault
from cravik.core.text.refusal import Refusal
from cravik.setup.refusals import NAMES


class ChangedElsewhere(Exception):
    """It was saved from another tab or by another person since the page was opened."""


class NameTaken(Refusal):
    """Another of its kind has that name in the business; ``free`` is the nearest that nobody has, where it is known."""

    words = NAMES

    def __init__(self, free: str = "") -> None:
        super().__init__(Fault("name_taken", why="name_taken_near" if free else "", free=free))
        self.free = free
