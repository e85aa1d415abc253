"""Percentages, exact to four decimals, and their share of an amount.

Rounding is half up, away from zero, to the minor unit, as the offer format has it.

>>> Percent.parse("9.975").of(9999)
997
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from cravik.core.errors import Fault, InvalidDocument

_PERCENT = re.compile(r"(\d{1,3})(?:\.(\d{1,4}))?", re.ASCII)
_PARTS = 10**4
#: A hundred percent, in ten-thousandths of a percent.
WHOLE = 100 * _PARTS


@dataclass(frozen=True, slots=True)
class Percent:
    """A percentage from 0 to 100, held as ten-thousandths of a percent (23 % is 230,000)."""

    ten_thousandths: int

    @classmethod
    def parse(cls, text: str, at: str = "percent") -> Percent:
        """Read ``"23"`` or ``"9.975"``; raises ``InvalidDocument`` for anything else or above 100."""
        found = _PERCENT.fullmatch(text)
        value = int(found[1] + (found[2] or "").ljust(4, "0")) if found else -1
        if not 0 <= value <= WHOLE:
            raise InvalidDocument(Fault("percent_malformed", at, text=text[:20]))
        return cls(value)

    @property
    def text(self) -> str:
        """As documents write it, without trailing zeros."""
        whole, rest = divmod(self.ten_thousandths, _PARTS)
        return f"{whole}.{rest:04d}".rstrip("0") if rest else str(whole)

    def of(self, minor: int) -> int:
        """The share of ``minor`` units, rounded half away from zero."""
        return rounded_ratio(minor * self.ten_thousandths, WHOLE)


def rounded_ratio(numerator: int, denominator: int) -> int:
    """``numerator ÷ denominator`` (which is positive) rounded half away from zero, in integers."""
    magnitude = (2 * abs(numerator) + denominator) // (2 * denominator)
    return magnitude if numerator >= 0 else -magnitude
