"""A basket: what one buyer picked of an offer, on which day."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime

from cravik.core.pricing.tax import Place


@dataclass(frozen=True, slots=True)
class BasketLine:
    """What was picked of one line. Absent: its default quantity, no option, level or amount.

    ``amount`` is the amount that the buyer entered, in major units as documents write it.
    """

    key: str
    quantity: int | None = None
    options: Mapping[str, str] = field(default_factory=dict)
    level: str | None = None
    amount: str | None = None


@dataclass(frozen=True, slots=True)
class Basket:
    """``pay_now`` is in major units as documents write it. ``at`` is the instant that the offer's window is
    held against; without it, that is the start of ``on`` in UTC. ``unknown_keys`` are the paths of keys
    that the document had and that mean nothing; they are refused with everything else."""

    on: date
    lines: tuple[BasketLine, ...] = ()
    code: str | None = None
    destination: Place | None = None
    tax_number: str | None = None
    cover_fee: bool = False
    plan: str | None = None
    pay_now: str | None = None
    at: datetime | None = None
    unknown_keys: tuple[str, ...] = ()
