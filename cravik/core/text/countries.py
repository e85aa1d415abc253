"""The names of countries, from Unicode's CLDR: the one source of them, on screens and in lists.

>>> country_words("IE"), country_words("XZ")
('Ireland', 'XZ')
"""

from __future__ import annotations

from functools import cache

from babel import Locale

#: Codes that CLDR names and that are no country.
_NONE = {"EU", "EZ", "UN", "QO", "XA", "XB", "ZZ"}


def country_words(code: str) -> str:
    """The country's English name, or its code where CLDR has none."""
    return str(Locale("en").territories.get(code, code))


@cache
def countries() -> list[tuple[str, str]]:
    """Every country's code and English name, by the name."""
    named = [(code, name) for code, name in Locale("en").territories.items() if len(code) == 2 and code not in _NONE]
    return sorted(named, key=lambda each: str(each[1]))
