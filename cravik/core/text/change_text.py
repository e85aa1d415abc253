"""By how much prices are changed, as it is typed.

>>> read_change("-1.50", "EUR").amount.major, read_change("+12.5 %", "EUR").percent
('-1.50', Fraction(25, 2))
"""

from __future__ import annotations

import re
from fractions import Fraction

from cravik.core.errors import CoreError, Fault, InvalidDocument
from cravik.core.pricing.repricing import Change
from cravik.core.text.amount_text import parse_signed_amount

_PERCENT = re.compile(r"([+−-]?)\s*(\d{1,3}(?:[.,]\d{1,4})?)\s*(?:%|per\s?cent)", re.ASCII | re.IGNORECASE)
#: Nothing becomes more than ten times as dear by mistake.
MAX_PERCENT = 900


def read_change(text: str, currency: str) -> Change:
    """What was typed, such as ``5 %``, ``-12.5 %``, ``+2`` or ``-1.50``, which is in ``currency``.

    Raises ``InvalidDocument`` with one fault, ``change_malformed``.
    """
    typed = text.strip()
    if found := _PERCENT.fullmatch(typed):
        percent = Fraction(found[2].replace(",", ".")) * (-1 if found[1] in ("-", "−") else 1)
        if -100 < percent <= MAX_PERCENT:
            return Change(percent=percent)
        raise InvalidDocument(Fault("change_malformed", "change", why="change_out_of_range", most=MAX_PERCENT))
    try:
        return Change(amount=parse_signed_amount(typed.removeprefix("+").strip(), currency))
    except CoreError:
        raise InvalidDocument(Fault("change_malformed", "change")) from None
