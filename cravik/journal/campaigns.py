"""What an address says of the campaign that brought somebody: the parameters whose names begin with ``utm_``.

The trade's usual ones are ``utm_source``, ``utm_medium``, ``utm_campaign``, ``utm_term``, ``utm_content`` and
``utm_id``; any other of that beginning is kept as well.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from urllib.parse import parse_qsl, urlencode

from cravik.ui.fields import clean_line

MAX_PARAMETERS, MAX_VALUE = 8, 80
#: Characters of all of them as they are kept; one alone always fits, though a sign may take twelve (``%F0%9F%AA%81``).
MAX_QUERY = 1000
_NAME = re.compile(r"utm_[a-z0-9_]{1,30}")


def campaign_in(parameters: Iterable[tuple[str, str]]) -> str:
    """The campaign's parameters, sorted by name, as a query of their own; nothing where there are none.

    >>> campaign_in([("utm_source", "Newsletter "), ("quantity.kite", "2"), ("UTM_Medium", "e-mail")])
    'utm_medium=e-mail&utm_source=Newsletter'
    """
    kept = {name.lower(): clean_line(value)[:MAX_VALUE].strip() for name, value in parameters}
    named = sorted((name, value) for name, value in kept.items() if value and _NAME.fullmatch(name))[:MAX_PARAMETERS]
    while named and len(query := urlencode(named)) > MAX_QUERY:
        named.pop()
    return query if named else ""


def parameters_of(query: str) -> dict[str, str]:
    """The parameters of a campaign as it is kept."""
    return dict(parse_qsl(query))
