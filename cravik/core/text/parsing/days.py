"""Days as the sentence writes them, and as people do.

>>> read_day("31 Dec 2026") == read_day("31 December 2026")
True
>>> read_day("9 Sept 2026")
datetime.date(2026, 9, 9)
>>> read_day("31 Nov 2026"), read_day("3 Decent 2026")
(None, None)
"""

from __future__ import annotations

from datetime import date

from babel import Locale

_NAMES = Locale("en").months["format"]
#: The months by their names and by their short names, in lower case.
_MONTHS = {name.lower(): month for names in (_NAMES["wide"], _NAMES["abbreviated"]) for month, name in names.items()}
_MONTHS["sept"] = _MONTHS["sep"]


def read_day(text: str) -> date | None:
    """The day of a text of number, month and year; None where there is no such day."""
    day, month, year = text.split()
    try:
        return date(int(year), _MONTHS[month.lower()], int(day))
    except (KeyError, ValueError):
        return None
