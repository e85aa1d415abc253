"""Currencies and their minor digits, by ISO 4217 (the table of the ``iso4217`` package).

Babel's own digits are wrong for several currencies (ISK, UGX and others differ from the
standard's list), so this is the one table that the product asks.

>>> minor_digits("EUR"), minor_digits("JPY"), minor_digits("BHD"), minor_digits("CLF")
(2, 0, 3, 4)
"""

from __future__ import annotations

from functools import cache

from iso4217 import Currency

from cravik.core.errors import Fault, UnknownCurrency

# Codes with minor digits that stand for funds and units of account: sums may be reckoned in
# them, but no seller offers them to a buyer.
_UNITS_OF_ACCOUNT = frozenset(("BOV", "CHE", "CHW", "CLF", "COU", "MXV", "USN", "UYI", "UYW", "XAD"))


@cache
def minor_digits(code: str) -> int:
    """Number of decimal digits of the currency's minor unit: 0, 2, 3 or 4.

    Raises ``UnknownCurrency`` for a code that the standard does not list, or lists without a
    minor unit (metals, drawing rights, codes for testing).
    """
    found = Currency.__members__.get(code) if code.isascii() and code.isupper() else None
    if found is None or found.exponent is None:
        raise UnknownCurrency(Fault("currency_unknown", "currency", text=code[:12]))
    return int(found.exponent)


def known_currency(code: object) -> str | None:
    """``code`` if it is a currency with a minor unit, else None."""
    try:
        minor_digits(code if isinstance(code, str) else "")
    except UnknownCurrency:
        return None
    return str(code)


@cache
def payable_currencies() -> tuple[str, ...]:
    """Every code that a seller can ask for, in alphabetical order."""
    return tuple(
        sorted(
            currency.code
            for currency in Currency
            if currency.exponent is not None and currency.code not in _UNITS_OF_ACCOUNT
        )
    )
