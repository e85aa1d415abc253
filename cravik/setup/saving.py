"""What can keep a change from being saved, whatever it is a change of."""

from __future__ import annotations


class ChangedElsewhere(Exception):
    """It was saved from another tab or by another person since the page was opened."""


class NameTaken(Exception):
    """Another of its kind has that name in the business; ``free`` is the nearest that nobody has, where it is known."""

    def __init__(self, free: str = "") -> None:
        super().__init__(f"That name is taken{f'; {free} is free' if free else ''}.")
        self.free = free
