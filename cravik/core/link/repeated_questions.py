"""Recognises by its words a question that asks for what the checkout can ask for by itself.

Only whole questions count: “Your e-mail address” repeats the built-in one, “Name on the kite” does not.

>>> repeats_built_in("What's your e-mail, please?"), repeats_built_in("Which name shall we sew on?")
('email', None)
"""

from __future__ import annotations

import re
import unicodedata
from typing import Literal

BuiltIn = Literal["name", "email", "phone", "address", "tax_number", "note"]


def _set(words: str) -> frozenset[str]:
    return frozenset(words.split())


# Words that change nothing about what a question asks for.
_FILLING = _set(
    "a an and any are at be best billing buyer can complete contact could current customer details do enter fill for"
    " full give have here i if in including info information is it leave let like may me my need of on optional or our"
    " person personal please provide put required s select shall share should specify tell that the their this to type"
    " us valid we what whats where which with would write you your yours"
)

# For each built-in question: words of which one has to be there, and words that may stand beside them.
_WORDS: dict[BuiltIn, tuple[frozenset[str], frozenset[str]]] = {
    "email": (_set("email emails mail emailaddress"), _set("address adress id reach")),
    "phone": (
        _set("phone telephone tel mobile cell cellphone phonenumber whatsapp"),
        _set("number no nr reach call daytime"),
    ),
    "tax_number": (
        _set("vat tax gst tva eori ein taxpayer ust tin vatin"),
        _set("number no nr id identification identifier registration code company business eu"),
    ),
    "address": (
        _set("address adress postcode postal zip street city town county country state region shipping delivery live"),
        _set("code number house line deliver delivered send sent ship home mailing lives living postage"),
    ),
    "name": (
        _set("name names surname firstname lastname forename fullname called"),
        _set("first last family given middle christian initials title how"),
    ),
    "note": (
        _set("note notes comment comments remark remarks message anything else instructions wishes requests"),
        _set("seller special know add order other additional further extra say more there want about"),
    ),
}


def repeats_built_in(label: str) -> BuiltIn | None:
    """Which of the built-in questions ``label`` asks once more, if any."""
    words = set(_words(label)) - _FILLING
    if not words or len(words) > 8:
        return None
    for built_in, (telling, beside) in _WORDS.items():
        if words & telling and words <= telling | beside:
            return built_in
    return None


def _words(label: str) -> list[str]:
    plain = unicodedata.normalize("NFKD", label[:500]).casefold()
    plain = "".join(sign for sign in plain if not unicodedata.combining(sign))
    return re.findall(r"[a-z]+", re.sub(r"\be[\s\-‐-―]?mail", "email", plain).replace("'", "").replace("’", ""))
