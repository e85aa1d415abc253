"""Money for reading: in figures for a locale, with the currency's code where its sign would leave a doubt.

Patterns and names are those of Unicode's CLDR through Babel; the digits are ISO 4217's own.

>>> format_money(Money(4800, "EUR"), "de"), format_money_clearly(Money(4800, "EUR"), "en")
('48,00\xa0€', '€48.00')
>>> format_money_clearly(Money(4800, "USD"), "en")
'$48.00 (USD)'
"""

from __future__ import annotations

import copy
import re
from decimal import Decimal
from functools import lru_cache

from babel import Locale
from babel.numbers import NumberPattern

from cravik.core.pricing.currency import minor_digits
from cravik.core.pricing.money import Money

#: Locales whose number format a page may be asked for; words stay English.
DEFAULT_LOCALE = "en"

#: Signs of several currencies each. (That of the pound is too, by its letter, but nobody takes it for another.)
_SHARED_SIGNS = frozenset(("$", "¥", "￥", "kr", "kr.", "Rs", "R", "₨"))

# CLDR's alphaNextToNumber, which Babel leaves out: a code of letters keeps its distance.
_LETTER_BY_DIGIT = re.compile(r"(?<=[^\W\d_])(?=\d)|(?<=\d)(?=[^\W\d_])")


@lru_cache(maxsize=4096)
def format_money(money: Money, locale: str = DEFAULT_LOCALE) -> str:
    """Such as ``€48.00`` or ``48,00 €``, as people of ``locale`` write it."""
    pattern = _currency_pattern(locale, minor_digits(money.currency))
    text = str(pattern.apply(_major(money), _locale(locale), currency=money.currency, currency_digits=False))
    return _LETTER_BY_DIGIT.sub("\u00a0", text).replace("-", "\u2212")


def format_money_clearly(money: Money, locale: str = DEFAULT_LOCALE) -> str:
    """The same, with the currency's code behind a sign that people of several countries take for their own."""
    figures = format_money(money, locale)
    sign = figures.strip("0123456789.,'’\u00a0\u202f\u2212 ")
    return f"{figures} ({money.currency})" if sign in _SHARED_SIGNS else figures


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
