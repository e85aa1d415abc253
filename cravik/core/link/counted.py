"""What is counted of a link over all its versions: orders, and pieces of each line.

>>> Counted(3, {"seat": 7}).pieces_of("seat"), Counted(3).pieces_of("seat")
(7, 0)
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Counted:
    """So many ``orders``, with so many ``pieces`` of each line, by its key. Rehearsals never count."""

    orders: int = 0
    pieces: Mapping[str, int] = field(default_factory=dict)

    def pieces_of(self, line: str) -> int:
        return self.pieces.get(line, 0)


NOTHING_YET = Counted()
