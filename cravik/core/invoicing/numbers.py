"""How documents are numbered: a stem, which may hold the year, and a number of at least four digits.

A prefix ends in no digit, so a label is parted in one way only, and two series with other stems never give one label.

>>> label_of(stem_of("R-", 2026), 12), label_of(stem_of("R-", None), 12)
('R-2026-0012', 'R-0012')
"""

from __future__ import annotations

import re

from cravik.core.errors import Fault, PrefixRefused

MAX_PREFIX = 12
#: What the numbers of rehearsals begin with, and no others.
OF_REHEARSALS = "REHEARSAL "
MAX_NUMBER = 99_999_999
_PREFIX = re.compile(r"[A-Za-z0-9/.\- ]*")


def parse_prefix(text: str) -> str:
    """A prefix as it was typed. Raises ``PrefixRefused``."""
    prefix = text.strip()
    if len(prefix) > MAX_PREFIX:
        raise PrefixRefused(Fault("prefix_too_long", "prefix", most=MAX_PREFIX))
    if not _PREFIX.fullmatch(prefix):
        raise PrefixRefused(Fault("prefix_signs", "prefix"))
    if prefix.upper().startswith(OF_REHEARSALS.strip()):
        raise PrefixRefused(Fault("prefix_of_rehearsals", "prefix"))
    if prefix[-1:].isdigit():
        raise PrefixRefused(Fault("prefix_ends_in_digit", "prefix", text=prefix))
    return prefix


def stem_of(prefix: str, year: int | None) -> str:
    """What stands before the number."""
    return prefix if year is None else f"{prefix}{year}-"


def label_of(stem: str, number: int) -> str:
    """The number as it is written."""
    return f"{stem}{number:04d}"


def can_meet(prefix: str, *, with_year: bool, other: str, other_with_year: bool) -> bool:
    """Whether two series may ever give one label."""
    if with_year == other_with_year:
        return prefix == other
    plain, yearly = (other, prefix) if with_year else (prefix, other)
    return bool(re.fullmatch(re.escape(yearly) + r"\d{4}-", plain))
