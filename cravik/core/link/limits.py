"""When and how often a link can be bought; ``core.link.closing`` judges by it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any, Literal

#: What pieces of a line are counted in.
CountWord = Literal["piece", "place", "seat", "ticket", "edition"]


@dataclass(frozen=True, slots=True)
class Limits:
    """From ``opens_at`` and before ``closes_at``; at most so many ``orders``, and so many of one buyer; at most so many
    ``pieces`` of a line, by its key, over all orders, and so many of one buyer.

    ``counted_as`` is what a line's pieces are counted in, where its seller says so: it changes words alone.
    """

    opens_at: datetime | None = None
    closes_at: datetime | None = None
    orders: int | None = None
    orders_per_buyer: int | None = None
    pieces: Mapping[str, int] = field(default_factory=dict)
    pieces_per_buyer: Mapping[str, int] = field(default_factory=dict)
    counted_as: Mapping[str, CountWord] = field(default_factory=dict)

    def with_keys(self, keys: Mapping[str, str]) -> Limits:
        """The same of lines that have other keys."""

        def renamed(counts: Mapping[str, Any]) -> dict[str, Any]:
            return {keys[key]: value for key, value in counts.items()}

        return replace(
            self,
            pieces=renamed(self.pieces),
            pieces_per_buyer=renamed(self.pieces_per_buyer),
            counted_as=renamed(self.counted_as),
        )

    @property
    def counts(self) -> bool:
        """Whether it ends by a count."""
        return self.orders is not None or bool(self.pieces)

    @property
    def counts_by_buyer(self) -> bool:
        """Whether it bounds what one buyer may have."""
        return self.orders_per_buyer is not None or bool(self.pieces_per_buyer)


NO_LIMITS = Limits()


@dataclass(frozen=True, slots=True)
class CodeRule:
    """How often a discount code can be used on its link: in all, and by one buyer. None: without a limit."""

    uses: int | None = None
    uses_per_buyer: int | None = None
