"""The lists that Setup offers: countries and currencies, in English, in alphabetical order."""

from __future__ import annotations

from functools import cache

import pycountry
from babel.numbers import get_currency_name

from cravik.core.currency import payable_currencies


@cache
def country_choices() -> list[tuple[str, str]]:
    return sorted(
        ((country.alpha_2, getattr(country, "common_name", country.name)) for country in pycountry.countries),
        key=lambda choice: choice[1],
    )


@cache
def currency_choices() -> list[tuple[str, str]]:
    return [(code, f"{code} – {get_currency_name(code, locale='en')}") for code in payable_currencies()]
