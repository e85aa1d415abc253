"""When and how often a link can be bought; ``core.link.closing`` judges by it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True)
class Limits:
    """From ``opens_at`` and before ``closes_at``; at most so many ``orders``, and so many of one buyer."""

    opens_at: datetime | None = None
    closes_at: datetime | None = None
    orders: int | None = None
    orders_per_buyer: int | None = None


NO_LIMITS = Limits()


@dataclass(frozen=True, slots=True)
class CodeRule:
    """How often a discount code can be used on its link: in all, and by one buyer. None: without a limit."""

    uses: int | None = None
    uses_per_buyer: int | None = None
