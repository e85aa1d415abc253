"""Tax numbers as buyers type them, checked by the rules of countries (python-stdnum).

The European Union's numbers, and those of the United Kingdom, carry their country as a prefix (Directive 2006/112/EC,
article 215): Greece writes EL, and Northern Ireland XI. Any other number is only held against what a number has to look
like, until it is to count as one of a country.

>>> parse_tax_number("IE 1234567 FA"), parse_tax_number("12-3456789")
('IE1234567FA', '123456789')
>>> number_of("40 303265045", "FR"), number_of("IE1234567FA", "FR"), number_of("12345", "FR")
('FR40303265045', None, None)
"""

from __future__ import annotations

import re

from stdnum.eu import vat as eu_vat
from stdnum.exceptions import ValidationError
from stdnum.gb import vat as gb_vat
from stdnum.util import get_cc_module

from cravik.core.errors import Fault, TaxNumberRefused

_TAX_NUMBER = re.compile(r"[A-Z0-9]{5,20}", re.ASCII)
_OF_THE_UNION = {state.upper() for state in eu_vat.MEMBER_STATES} | {"EL", "XI"}
#: How a country's numbers begin, where that is not its code. The first is how they are written.
_PREFIXES = {"GR": ("EL", "GR"), "GB": ("GB", "XI")}


def parse_tax_number(typed: str) -> str:
    """The number in capitals, without spaces, points and hyphens.

    Raises ``TaxNumberRefused`` for what cannot be one, and where the check digits do not fit.
    """
    number = _plain(typed)
    if not _TAX_NUMBER.fullmatch(number):
        raise TaxNumberRefused(Fault("tax_number_malformed", "tax_number"))
    prefix = number[:2]
    rule = eu_vat if prefix in _OF_THE_UNION else gb_vat if prefix == "GB" else None
    if rule is not None and not rule.is_valid(number):
        raise TaxNumberRefused(Fault("tax_number_mistyped", "tax_number"))
    return number


def number_of(typed: str, country: str) -> str | None:
    """The number as that country (ISO 3166-1 alpha-2) writes it, if it is one of its by its check digits; else None.

    It is written with its prefix where it has one, and may be typed without. Where no rule is known,
    there is none.
    """
    number = _plain(typed)
    if not _TAX_NUMBER.fullmatch(number):
        return None
    if country not in _OF_THE_UNION and country not in _PREFIXES:
        return number if _fits(country, number) else None
    prefixes = _PREFIXES.get(country, (country,))
    if number.startswith("XI") and country == "GB":
        return number if eu_vat.is_valid(number) else None
    bare = number[2:] if number.startswith(prefixes) else number
    return f"{prefixes[0]}{bare}" if _fits(country, bare) else None


def _fits(country: str, number: str) -> bool:
    rule = get_cc_module(country.lower(), "vat")
    try:
        return rule is not None and bool(rule.is_valid(number))
    except (ValidationError, ValueError, IndexError):  # a rule that does not expect such a text
        return False


def _plain(typed: str) -> str:
    return re.sub(r"[\s.-]", "", typed).upper()
