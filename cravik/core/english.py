"""Small pieces of English that every part of the core says things with. Lists and days are worded as CLDR has them.

>>> listed(["red", "blue", "green"], "or"), counted(1, "country", "countries"), counted(6, "country", "countries")
('red, blue or green', '1 country', '6 countries')
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import Literal

from babel.dates import format_date
from babel.lists import format_list

# British English, which has no comma before the last of a list, and puts the day first.
_LOCALE = "en_GB"
# CLDR's British months are of three letters but for one, "Sept"; Django's and Python's are of three.
_MONTHS = "en"
_STYLES: dict[str, Literal["standard", "or"]] = {"and": "standard", "or": "or"}


def listed(words: Sequence[str], last: Literal["and", "or"]) -> str:
    """``words`` with commas, and ``last`` before the last of them; nothing for none."""
    return format_list(words, _STYLES[last], _LOCALE)


def counted(number: int, one: str, more: str) -> str:
    return f"{number:,} {one if number == 1 else more}"


def day_words(day: date) -> str:
    """Such as ``31 Dec 2026``."""
    return format_date(day, "d MMM y", _MONTHS)


def instant_words(instant: datetime) -> str:
    """Such as ``31 Dec 2026, 18:00 (UTC+01:00)``: with its offset, so that nobody guesses."""
    return f"{day_words(instant.date())}, {instant:%H:%M} ({instant.tzinfo or 'UTC'})"
