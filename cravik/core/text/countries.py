"""The names of countries, from Unicode's CLDR: the one source of them, on screens and in lists.

>>> country_words("IE"), country_words("XZ")
('Ireland', 'XZ')
"""

from __future__ import annotations

from babel import Locale


def country_words(code: str) -> str:
    """The country's English name, or its code where CLDR has none."""
    return str(Locale("en").territories.get(code, code))
