"""Reading JSON strictly: what could be read in two ways, or never end, is refused.

Refused are texts over a bound, nesting that is too deep, a key that stands twice in one object,
NaN and Infinity (RFC 8259 has neither), whole numbers of more than 18 digits, and lone surrogates.
The parser is jiter, which refuses most of them itself.

>>> read_json('{"a": 1}')
{'a': 1}
"""

from __future__ import annotations

import re
from typing import Any

import jiter

from cravik.core.errors import Fault, InvalidDocument

#: Bytes of one document; the largest offer that the format allows is far below.
MAX_DOCUMENT_BYTES = 2_000_000
MAX_DEPTH = 30
_MAX_DIGITS = 18
_TOO_LARGE = 10**_MAX_DIGITS
_TWICE = re.compile(r'Detected duplicate key "(.*)" at line', re.DOTALL)
_PLACE = re.compile(r"^(.*) at line (\d+) column (\d+)$", re.DOTALL)


def read_json(text: str | bytes) -> Any:
    """What ``text`` (UTF-8) says. Raises ``InvalidDocument`` with one fault."""
    if len(text) > MAX_DOCUMENT_BYTES:
        raise _refusal("document_too_long", most=MAX_DOCUMENT_BYTES)
    data = _as_utf_8(text)
    try:
        value = jiter.from_json(data, allow_inf_nan=False, catch_duplicate_keys=True, cache_mode="keys")
    except ValueError as error:
        raise _trouble(str(error), data) from None
    _check(value)
    return value


def _as_utf_8(text: str | bytes) -> bytes:
    try:
        if isinstance(text, str):
            return text.encode()
        text.decode()
    except UnicodeEncodeError:
        raise _refusal("half_a_character") from None
    except UnicodeDecodeError:
        raise _refusal("not_utf_8") from None
    return text.removeprefix(b"\xef\xbb\xbf")


def _trouble(trouble: str, data: bytes) -> InvalidDocument:
    """What is wrong, by what the parser says of it."""
    if twice := _TWICE.search(trouble):
        return _refusal("key_twice", key=_shown(twice[1]))
    if "recursion limit" in trouble:
        return _refusal("nested_too_deep", most=MAX_DEPTH)
    if "number out of range" in trouble:
        return _refusal("number_too_long", most=_MAX_DIGITS)
    if "hex escape" in trouble and re.search(rb"\\u[dD][89a-fA-F]", data):
        return _refusal("half_a_character")
    if constant := re.search(rb"NaN|-?Infinity", data):
        return _refusal("not_a_number", text=constant[0].decode())
    place = _PLACE.match(trouble)
    if place is None:
        return _refusal("not_json", trouble=trouble)
    return _refusal("not_json", trouble=place[1], line=int(place[2]), column=int(place[3]))


def _check(document: Any) -> None:
    """Its depth and its numbers, level by level, without recursion."""
    level: list[Any] = [[document]]
    for _ in range(MAX_DEPTH + 1):
        below = []
        for value in level:
            for child in value.values() if type(value) is dict else value:
                kind = type(child)
                if kind is dict or kind is list:
                    below.append(child)
                elif kind is int and not -_TOO_LARGE < child < _TOO_LARGE:
                    raise _refusal("number_too_long", text=str(child)[:12], most=_MAX_DIGITS)
        if not below:
            return
        level = below
    raise _refusal("nested_too_deep", most=MAX_DEPTH)


def _shown(text: str) -> str:
    return text[:40].encode("utf-8", "replace").decode()


def _refusal(why: str, **fields: str | int) -> InvalidDocument:
    return InvalidDocument(Fault("invalid_document", why=why, **fields))
