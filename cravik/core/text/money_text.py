"""Money for reading: in figures for a locale, and in words that leave the currency in no doubt.

Patterns and names are those of Unicode's CLDR through Babel; the digits are ISO 4217's own.

>>> format_money(Money(4800, "EUR"), "en"), format_money_in_full(Money(4800, "EUR"), "en")
('€48.00', '48.00 euros (EUR)')
"""

from __future__ import annotations

import copy
import re
from decimal import Decimal
from functools import lru_cache

from babel import Locale
from babel.numbers import NumberPattern, format_decimal, get_currency_name

from cravik.core.pricing.currency import minor_digits
from cravik.core.pricing.money import Money

#: Locales whose number format a page may be asked for; words stay English.
DEFAULT_LOCALE = "en"


# CLDR's alphaNextToNumber, which Babel leaves out: a code of letters keeps its distance.
_LETTER_BY_DIGIT = re.compile(r"(?<=[^\W\d_])(?=\d)|(?<=\d)(?=[^\W\d_])")


def format_money(money: Money, locale: str = DEFAULT_LOCALE) -> str:
    """Such as ``€48.00`` or ``48,00 €``, as people of ``locale`` write it."""
    pattern = _currency_pattern(locale, minor_digits(money.currency))
    text = str(pattern.apply(_major(money), _locale(locale), currency=money.currency, currency_digits=False))
    return _LETTER_BY_DIGIT.sub("\u00a0", text).replace("-", "\u2212")


def format_money_in_full(money: Money, locale: str = DEFAULT_LOCALE) -> str:
    """Such as ``48.00 euros (EUR)``: the currency by its English name and its code."""
    digits = minor_digits(money.currency)
    number = format_decimal(
        _major(money), format="#,##0" + ("." + "0" * digits if digits else ""), locale=_locale(locale)
    )
    name = get_currency_name(money.currency, count=_major(money), locale="en")
    return f"{number} {name} ({money.currency})"


def known_locale(identifier: str) -> str | None:
    """``identifier`` (``de-AT``, ``pt_BR``) as a locale that Babel knows, or None."""
    locale = _locale_or_none(identifier)
    return str(locale) if locale else None


@lru_cache(maxsize=256)
def _locale_or_none(identifier: str) -> Locale | None:
    try:
        return Locale.parse(identifier.replace("-", "_"))
    except Exception:  # Babel raises several kinds for what is no locale
        return None


def _locale(identifier: str) -> Locale:
    return _locale_or_none(identifier) or Locale.parse(DEFAULT_LOCALE)


@lru_cache(maxsize=512)
def _currency_pattern(locale: str, digits: int) -> NumberPattern:
    pattern: NumberPattern = copy.copy(_locale(locale).currency_formats["standard"])
    pattern.frac_prec = (digits, digits)
    return pattern


def _major(money: Money) -> Decimal:
    """Exact; Babel formats decimals, and nothing is computed with it."""
    return Decimal(money.minor).scaleb(-minor_digits(money.currency))
