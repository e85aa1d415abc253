"""How words are made of fields: a template names them, and each value is written as its type asks.

>>> from cravik.core.coded import Coded
>>> from cravik.core.pricing.money import Money
>>> fee = Coded("dear", fee=Money(150, "EUR"), lines=("Kite", "Tail"), count=1200)
>>> worded(fee, {"dear": "{fee}, {fee.major}, {lines:quoted}, {count}."})
'1.50 EUR, 1.50, “Kite” and “Tail”, 1,200.'
"""

from __future__ import annotations

import string
from collections.abc import Callable, Mapping
from datetime import date, datetime
from typing import Any

from cravik.core.coded import Coded
from cravik.core.english import day_words, instant_words, listed
from cravik.core.pricing.delivery import ANYWHERE
from cravik.core.pricing.money import Money
from cravik.core.text.countries import country_words

Fields = Mapping[str, Any]
#: By code, or by what tells apart what has one code: a template, or what makes a sentence of the fields.
Words = Mapping[str, str | Callable[[Fields], str]]


def worded(coded: Coded, words: Words) -> str:
    """The words for it, or nothing where there are none."""
    found = words.get(coded.why) or words.get(coded.code, "")
    return formatted(found, coded.fields) if isinstance(found, str) else found(coded.fields)


def formatted(template: str, fields: Fields) -> str:
    """The template with its fields. A value is never read as a template itself."""
    return _Formatter().vformat(template, (), fields)


class _Formatter(string.Formatter):
    def format_field(self, value: Any, format_spec: str) -> str:
        match format_spec:
            case "":
                return shown(value)
            case "quoted":
                return listed([f"“{each}”" for each in value], "and")
            case "country":
                return _place(value) if isinstance(value, str) else listed([_place(each) for each in value], "and")
            case _:
                return str(format(value, format_spec))


def shown(value: Any) -> str:
    """A value of a field in words and figures."""
    match value:
        case Money():
            return f"{_grouped(value)} {value.currency}"
        case bool() | str():
            return str(value)
        case int():
            return f"{value:,}"
        case datetime():
            return instant_words(value)
        case date():
            return day_words(value)
        case tuple() | list():
            return listed([shown(each) for each in value], "and")
        case _:
            return str(value)


def _grouped(money: Money) -> str:
    whole, point, decimals = money.major.partition(".")
    return f"{int(whole):,}{point}{decimals}" if len(whole) > 6 else money.major


def _place(country: str) -> str:
    return "everywhere else" if country == ANYWHERE else country_words(country)
