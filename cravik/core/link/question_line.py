"""A question to buyers as it is said in one line: its kind is read from how it is asked.

>>> read_question("Size: S, M, L", "size")
OneOfQuestion(key='size', label='Size', required=False, help='', options=('S', 'M', 'L'))
>>> read_question("How many guests?", "guests").kind, read_question("Name on the tail", "tail").kind
('number', 'short_text')
"""

from __future__ import annotations

import re

from cravik.core.link.questions import (
    DayQuestion,
    LongTextQuestion,
    NumberQuestion,
    OneOfQuestion,
    Question,
    SeveralOfQuestion,
    ShortTextQuestion,
    YesNoQuestion,
)

_LIST = re.compile(r"(?P<label>[^:]+):\s*(?P<options>[^,;]+(?:[,;][^,;]+)+)")
_ANY = re.compile(r"\s*\((?:any|several|all that apply|as many as you like)\)", re.IGNORECASE)
_COUNT = re.compile(r"how many\b|number of\b", re.IGNORECASE)
_MEASURE = re.compile(
    r"how (?:much|long|wide|high|tall|old|far|heavy|deep)\b|(?:age|width|height|length|weight)\b", re.IGNORECASE
)
_DAY = re.compile(r"(?:when|(?:on )?(?:which|what) (?:day|date)|date\b|day\b|birthday)", re.IGNORECASE)
_YES_NO = re.compile(r"(?:do|does|did|are|is|was|will|would|can|could|have|has|shall|should|may) ", re.IGNORECASE)
_LONG = re.compile(r"(?:describe|tell us|tell me|explain|what would you like|anything)\b", re.IGNORECASE)


def read_question(line: str, key: str) -> Question:
    """The question that the line says, optional until it is said otherwise; a line that begins with ``*`` is required.

    ``LABEL: A, B, C`` is a list to pick one of, or several with ``(any)`` in it.
    """
    required = line.lstrip().startswith("*")
    text = line.strip().lstrip("* ").strip()
    several = bool(_ANY.search(text))
    text = _ANY.sub("", text)
    if found := _LIST.fullmatch(text):
        options = tuple(dict.fromkeys(filter(None, (each.strip() for each in re.split("[,;]", found["options"])))))
        label = found["label"].strip()
        if len(options) > 1:
            if several:
                return SeveralOfQuestion(key, label, options, required=required)
            return OneOfQuestion(key, label, options, required=required)
    if _COUNT.match(text):
        return NumberQuestion(key, text, whole=True, required=required)
    if _MEASURE.match(text):
        return NumberQuestion(key, text, required=required)
    if _DAY.match(text):
        return DayQuestion(key, text, required=required)
    if _YES_NO.match(text):
        return YesNoQuestion(key, text, required=required)
    if _LONG.match(text):
        return LongTextQuestion(key, text, required=required)
    return ShortTextQuestion(key, text, required=required)
