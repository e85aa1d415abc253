"""An amount of money: a whole number of minor units, and its currency.

>>> Money.parse("24.00", "EUR")
Money(minor=2400, currency='EUR')
>>> Money(2400, "JPY").major
'2400'
>>> -Money(600, "EUR") < Money(0, "EUR") <= abs(-Money(600, "EUR"))
True
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from cravik.core.errors import AmountRefused, Fault
from cravik.core.pricing.currency import minor_digits

#: No amount may exceed this many minor units; what is larger is a typing mistake.
MAX_MINOR = 10**15

_MAJOR = re.compile(r"(-?)(\d{1,40})(?:\.(\d{1,40}))?", re.ASCII)


@dataclass(frozen=True, slots=True)
class Money:
    """``minor`` units (cents, yen, fils) of an ISO 4217 ``currency``."""

    minor: int
    currency: str

    @classmethod
    def parse(cls, text: str, currency: str, at: str = "amount") -> Money:
        """Read a document's amount, such as ``"24.00"``: plain digits and a point.

        Fewer decimals than the currency has are allowed, more are refused.
        Raises ``AmountRefused`` with ``at`` as the place of the fault.
        """
        digits = minor_digits(currency)
        found = _MAJOR.fullmatch(text)
        if found is None:
            raise AmountRefused(Fault("amount_malformed", at, text=text[:40]))
        sign, whole, decimals = found[1], found[2], found[3] or ""
        if len(decimals) > digits:
            raise AmountRefused(
                Fault("amount_precision", at, currency=currency, digits=digits, text=text[:40], decimals=len(decimals))
            )
        minor = int(whole + decimals.ljust(digits, "0"))
        if minor > MAX_MINOR:
            raise AmountRefused(Fault("amount_too_large", at, text=text[:40], currency=currency))
        return cls(-minor if sign else minor, currency)

    @property
    def major(self) -> str:
        """The amount in major units with exactly the currency's minor digits, as documents write it."""
        digits = minor_digits(self.currency)
        sign, figures = ("-" if self.minor < 0 else ""), str(abs(self.minor)).rjust(digits + 1, "0")
        return f"{sign}{figures[:-digits]}.{figures[-digits:]}" if digits else f"{sign}{figures}"

    def __add__(self, other: Money) -> Money:
        return Money(self.minor + self._of_same_currency(other), self.currency)

    def __sub__(self, other: Money) -> Money:
        return Money(self.minor - self._of_same_currency(other), self.currency)

    def __mul__(self, times: int) -> Money:
        return Money(self.minor * times, self.currency) if times != 1 else self

    def __neg__(self) -> Money:
        return Money(-self.minor, self.currency)

    def __abs__(self) -> Money:
        return -self if self.minor < 0 else self

    def __bool__(self) -> bool:
        return self.minor != 0

    def __lt__(self, other: Money) -> bool:
        return self.minor < self._of_same_currency(other)

    def __le__(self, other: Money) -> bool:
        return self.minor <= self._of_same_currency(other)

    def __gt__(self, other: Money) -> bool:
        return self.minor > self._of_same_currency(other)

    def __ge__(self, other: Money) -> bool:
        return self.minor >= self._of_same_currency(other)

    def _of_same_currency(self, other: Money) -> int:
        if other.currency != self.currency:
            raise ValueError(f"{self.currency} and {other.currency} have no sum, and neither is more")
        return other.minor


def sums_of(amounts: Iterable[Money]) -> tuple[Money, ...]:
    """One sum a currency, in the order of their codes: sums are never added across currencies.

    >>> [each.major for each in sums_of([Money(150, "GBP"), Money(100, "EUR"), Money(50, "GBP")])]
    ['1.00', '2.00']
    """
    minor: dict[str, int] = {}
    for amount in amounts:
        minor[amount.currency] = minor.get(amount.currency, 0) + amount.minor
    return tuple(Money(minor[currency], currency) for currency in sorted(minor))


def total_of(amounts: Iterable[Money], currency: str) -> Money:
    """The sum of ``amounts``, which are all in ``currency``; nothing for none."""
    nothing = Money(0, currency)
    return Money(sum(nothing._of_same_currency(amount) for amount in amounts), currency)
