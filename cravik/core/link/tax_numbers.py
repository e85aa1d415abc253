"""Tax numbers as buyers type them, checked by the rules of the country that their prefix names (python-stdnum).

The European Union's numbers, and those of the United Kingdom, carry such a prefix (Directive 2006/112/EC, article 215);
others are only held against what any number has to look like.

>>> parse_tax_number("IE 1234567 FA"), parse_tax_number("12-3456789")
('IE1234567FA', '123456789')
"""

from __future__ import annotations

import re

from stdnum.eu import vat as eu_vat
from stdnum.gb import vat as gb_vat

from cravik.core.errors import Fault, TaxNumberRefused

_TAX_NUMBER = re.compile(r"[A-Z0-9]{5,20}", re.ASCII)
_OF_THE_UNION = {state.upper() for state in eu_vat.MEMBER_STATES} | {"EL", "XI"}


def parse_tax_number(typed: str) -> str:
    """The number in capitals, without spaces, points and hyphens.

    Raises ``TaxNumberRefused`` for what cannot be one, and where the check digits do not fit.
    """
    number = re.sub(r"[\s.-]", "", typed).upper()
    if not _TAX_NUMBER.fullmatch(number):
        words = "A tax number has 5 to 20 letters and digits, such as IE1234567FA."
        raise TaxNumberRefused(Fault("tax_number_malformed", "tax_number", words))
    prefix = number[:2]
    rule = eu_vat if prefix in _OF_THE_UNION else gb_vat if prefix == "GB" else None
    if rule is not None and not rule.is_valid(number):
        words = "A sign of this tax number is mistyped: it does not fit its country's rule."
        raise TaxNumberRefused(Fault("tax_number_mistyped", "tax_number", words))
    return number
