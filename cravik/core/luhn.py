"""The check digit of card numbers (ISO/IEC 7812-1, annex B; H. P. Luhn, US patent 2,950,048).

>>> is_luhn_valid("79927398713"), is_luhn_valid("79927398710")
(True, False)
"""

from __future__ import annotations


def is_luhn_valid(digits: str) -> bool:
    """Whether the last of ``digits`` (ASCII digits) is the check digit of the others."""
    doubled = (int(digit) * 2 for digit in digits[-2::-2])
    return (
        sum(int(digit) for digit in digits[-1::-2]) + sum(value - 9 if value > 9 else value for value in doubled)
    ) % 10 == 0


def with_check_digit(digits: str) -> str:
    """``digits`` followed by the check digit that makes them valid."""
    return next(whole for whole in (f"{digits}{check}" for check in range(10)) if is_luhn_valid(whole))
