"""Discount codes: which lines they count for, and what they take off each.

>>> percent = PercentCode("GUST", Percent.parse("33.3333"))
>>> [off.minor for off in taken_off(percent, [Eligible(Money(1000, "EUR"), 1, Money(1000, "EUR"))] * 3)]
[334, 333, 333]
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import ClassVar, NamedTuple

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.shares import in_proportion


@dataclass(frozen=True, slots=True, kw_only=True)
class _Code:
    """What every code may be bound to: the keys of ``lines`` (None: all), days (both included), and
    a ``minimum`` of the eligible lines before the discount."""

    lines: tuple[str, ...] | None = None
    starts_on: date | None = None
    ends_on: date | None = None
    minimum: Money | None = None

    def counts_for(self, key: str) -> bool:
        return self.lines is None or key in self.lines


@dataclass(frozen=True, slots=True)
class PercentCode(_Code):
    """A percentage off the eligible lines."""

    kind: ClassVar = "percent"
    code: str
    percent: Percent


@dataclass(frozen=True, slots=True)
class AmountCode(_Code):
    """A sum off the eligible lines, at most all of it."""

    kind: ClassVar = "amount"
    code: str
    amount: Money


@dataclass(frozen=True, slots=True)
class UnitPriceCode(_Code):
    """Brings the unit price of one ``line`` (which has a fixed price) down to ``unit``, never up."""

    kind: ClassVar = "unit_price"
    code: str
    line: str
    unit: Money

    def counts_for(self, key: str) -> bool:
        return key == self.line and (self.lines is None or key in self.lines)


@dataclass(frozen=True, slots=True)
class FreeDeliveryCode(_Code):
    """Takes the delivery charge away, and nothing off the lines."""

    kind: ClassVar = "free_delivery"
    code: str


Code = PercentCode | AmountCode | UnitPriceCode | FreeDeliveryCode


class Eligible(NamedTuple):
    """A line that the code counts for: its ``amount`` and, where there is one, its price a ``unit``."""

    amount: Money
    quantity: int
    unit: Money | None


def normal_code(typed: str) -> str:
    """Codes are the same whatever their case and the space around them."""
    return typed.strip().casefold()


def taken_off(code: Code, eligible: Sequence[Eligible]) -> list[Money]:
    """What ``code`` takes off each line.

    A percentage is rounded once, on the sum, and a sum is capped at it; both are spread over the
    lines in proportion to their amounts by largest remainder, ties to the earlier line.
    """
    amounts = [line.amount.minor for line in eligible]
    match code:
        case PercentCode(percent=percent):
            off = in_proportion(percent.of(sum(amounts)), amounts)
        case AmountCode(amount=amount):
            off = in_proportion(min(amount.minor, sum(amounts)), amounts)
        case UnitPriceCode(unit=to):
            off = [line.quantity * max(0, (line.unit.minor if line.unit else 0) - to.minor) for line in eligible]
        case FreeDeliveryCode():
            off = [0] * len(eligible)
    return [Money(each, line.amount.currency) for each, line in zip(off, eligible, strict=True)]


def code_with_keys(code: Code, keys: Mapping[str, str]) -> Code:
    """The code with other keys of the lines that it is for, by ``keys``; those that are not there stay."""
    lines = None if code.lines is None else tuple(keys.get(key, key) for key in code.lines)
    bound: Code = replace(code, line=keys.get(code.line, code.line)) if isinstance(code, UnitPriceCode) else code
    return replace(bound, lines=lines)
