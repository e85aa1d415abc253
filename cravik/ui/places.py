"""The lists that Setup offers: countries and currencies, in English, in alphabetical order."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence
from functools import cache
from importlib.resources import files

import pycountry
from babel.numbers import get_currency_name, get_territory_currencies

from cravik.core.pricing.currency import payable_currencies
from cravik.core.pricing.delivery import ANYWHERE
from cravik.core.text.countries import country_words

#: What a seller may write for every country that no other zone names.
EVERYWHERE_ELSE = "everywhere else"
#: What people call countries beside their names in the lists, folded.
_ALSO_CALLED = {
    "AE": "uae emirates",
    "BA": "bosnia",
    "CD": "drcongo",
    "CI": "ivorycoast",
    "CV": "capeverde",
    "CZ": "czechrepublic",
    "GB": "uk greatbritain britain england scotland wales northernireland",
    "KR": "korea",
    "MK": "macedonia",
    "MM": "burma",
    "NL": "thenetherlands holland",
    "PS": "palestine",
    "RU": "russia",
    "SZ": "swaziland",
    "TL": "easttimor",
    "TR": "turkey",
    "US": "usa america unitedstatesofamerica theunitedstates thestates",
    "VA": "vatican",
}
# The members of the European Union since 2020 (Treaty on European Union, article 52, as amended).
_EU = "AT BE BG CY CZ DE DK EE ES FI FR GR HR HU IE IT LT LU LV MT NL PL PT RO SE SI SK".split()


@cache
def country_choices() -> list[tuple[str, str]]:
    """Every country of ISO 3166-1 under its name here."""
    named = ((country.alpha_2, country_words(country.alpha_2)) for country in pycountry.countries)
    return sorted(named, key=lambda choice: _folded(choice[1]))


@cache
def currency_choices() -> list[tuple[str, str]]:
    return [(code, f"{code} – {get_currency_name(code, locale='en')}") for code in payable_currencies()]


@cache
def time_zones() -> dict[str, tuple[str, ...]]:
    """The zones of each country, as the time zone database lists them (``zone.tab``)."""
    table = (files("tzdata") / "zoneinfo" / "zone.tab").read_text(encoding="utf-8")
    zones: dict[str, list[str]] = {}
    for line in table.splitlines():
        if line and not line.startswith("#"):
            country, _, zone, *_ = line.split("\t")
            zones.setdefault(country, []).append(zone)
    return {country: tuple(names) for country, names in zones.items()}


@cache
def zone_choices() -> list[tuple[str, str]]:
    names = {zone for zones in time_zones().values() for zone in zones}
    return [("UTC", "UTC"), *((name, name.replace("_", " ")) for name in sorted(names))]


@cache
def usual_of_countries() -> dict[str, tuple[str, tuple[str, ...]]]:
    """The currency and the time zones of each country, as a form proposes them."""
    known = set(payable_currencies())
    usual = {}
    for code, _ in country_choices():
        currencies = [currency for currency in get_territory_currencies(code) if currency in known]
        usual[code] = (currencies[0] if currencies else "", time_zones().get(code, ()))
    return usual


@cache
def _codes_by_name() -> dict[str, tuple[str, ...]]:
    """Every name and code by which a country may be called, folded, with the codes that are meant."""
    names: dict[str, tuple[str, ...]] = {}
    for country in pycountry.countries:
        called = {country.name, getattr(country, "common_name", ""), getattr(country, "official_name", "")}
        for name in called | {country_words(country.alpha_2), country.alpha_2, country.alpha_3}:
            names[_folded(name)] = (country.alpha_2,)
    names.pop("", None)
    names |= {name: (code,) for code, called in _ALSO_CALLED.items() for name in called.split()}
    for name in ("eu", "europeanunion"):
        names[name] = tuple(_EU)
    for name in (EVERYWHERE_ELSE, "everywhere", "anywhere", "anywhere else", "worldwide", "*"):
        names[_folded(name)] = (ANYWHERE,)
    return names


def _folded(name: str) -> str:
    plain = "".join(sign for sign in unicodedata.normalize("NFKD", name) if not unicodedata.combining(sign))
    return "".join(sign for sign in plain.casefold() if sign.isalnum() or sign == ANYWHERE)


def parse_countries(typed: str) -> tuple[list[str], list[str]]:
    """The codes of the countries that ``typed`` names, with commas or lines between, and what names none.

    >>> parse_countries("Ireland, gb, Atlantis")
    (['IE', 'GB'], ['Atlantis'])
    """
    codes: list[str] = []
    unknown = []
    for part in typed.replace("\n", ",").replace(";", ",").split(","):
        if name := part.strip():
            found = _codes_by_name().get(_folded(name))
            if found:
                codes += found
            else:
                unknown.append(name)
    return list(dict.fromkeys(codes)), unknown


def format_countries(codes: Sequence[str]) -> str:
    """The countries by their names, so that ``parse_countries`` reads them back."""
    names = dict(country_choices())
    return ", ".join(EVERYWHERE_ELSE if code == ANYWHERE else names.get(code, code).replace(",", " ") for code in codes)
