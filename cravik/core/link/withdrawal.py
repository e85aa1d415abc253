"""A consumer's right to withdraw from a contract that was made at a distance: where it is given, for how long, and of
what there is none.

After Directive 2011/83/EU, articles 9 to 16, which holds in the European Economic Area, and the Consumer Contracts
Regulations 2013 of the United Kingdom. Periods end as Regulation (EEC) 1182/71, article 3(4), says.

>>> gives_right("IE"), gives_right("US")
(True, False)
>>> last_day(date(2026, 12, 1)), last_day(date(2026, 12, 5))
(datetime.date(2026, 12, 15), datetime.date(2026, 12, 21))
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import Literal

#: Why there is no right (article 16): made to the buyer's wishes (c), spoiling soon (d), for a set day (l), data that
#: the buyer has at once and agreed to have (m); or nothing is bought: a gift.
Exemption = Literal["made_to_order", "perishable", "dated", "at_once", "gift"]

DAYS = 14
#: Somebody who lives far away has it so many days after it was sent. The period begins then, which nobody tells.
DAYS_ON_THE_WAY = 14

_EEA = (
    "AT BE BG CY CZ DE DK EE ES FI FR GR HR HU IE IT LT LU LV MT NL PL PT RO SE SI SK"  # the Union
    " IS LI NO"
)
_COUNTRIES = frozenset([*_EEA.split(), "GB"])
_SATURDAY = 5


def gives_right(country: str) -> bool:
    """Whether sellers of that country, by its ISO 3166-1 code, owe it to consumers."""
    return country in _COUNTRIES


def last_day(begins: date) -> date:
    """The last day of the right: the day of ``begins`` is not counted, and no period ends on a weekend."""
    end = begins + timedelta(days=DAYS)
    return end + timedelta(days=7 - end.weekday()) if end.weekday() >= _SATURDAY else end
