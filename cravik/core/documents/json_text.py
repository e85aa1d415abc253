"""Reading JSON strictly: what could be read in two ways, or never end, is refused.

Refused are texts over a bound, nesting that is too deep, a key that stands twice in one object,
NaN and Infinity (RFC 8259 has neither), whole numbers of more than 18 digits, and lone surrogates.

>>> read_json('{"a": 1}')
{'a': 1}
"""

from __future__ import annotations

import json
from typing import Any, NoReturn

from cravik.core.errors import Fault, InvalidDocument

#: Bytes of one document; the largest offer that the format allows is far below.
MAX_DOCUMENT_BYTES = 2_000_000
MAX_DEPTH = 30
_MAX_DIGITS = 18


def read_json(text: str | bytes) -> Any:
    """What ``text`` (UTF-8) says. Raises ``InvalidDocument`` with one clear sentence."""
    if len(text) > MAX_DOCUMENT_BYTES:
        raise _refusal(f"The document is longer than {MAX_DOCUMENT_BYTES:,} bytes.")
    try:
        decoded = text.decode("utf-8-sig") if isinstance(text, bytes) else text
        value = json.loads(decoded, object_pairs_hook=_object, parse_int=_whole_number, parse_constant=_refuse_constant)
    except UnicodeDecodeError:
        raise _refusal("The document is not written in UTF-8.") from None
    except RecursionError:
        raise _refusal(f"The document is nested deeper than {MAX_DEPTH} levels.") from None
    except json.JSONDecodeError as error:
        raise _refusal(f"The document is no JSON: {error.msg} (line {error.lineno}, column {error.colno}).") from None
    _check(value)
    return value


def _check(document: Any) -> None:
    """Walks the document without recursion: its depth, and that every text can be written again."""
    level = [document]
    for _ in range(MAX_DEPTH):
        level = [child for value in level for child in _children(value)]
        if not level:
            return
    raise _refusal(f"The document is nested deeper than {MAX_DEPTH} levels.")


def _children(value: Any) -> list[Any]:
    if isinstance(value, dict):
        return [*value.keys(), *value.values()]
    if isinstance(value, list):
        return value
    if isinstance(value, str) and not value.isascii():
        try:
            value.encode()
        except UnicodeEncodeError:
            raise _refusal("The document has half a character in it (a lone surrogate).") from None
    return []


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        keys = [key for key, _ in pairs]
        twice = next(key for key in keys if keys.count(key) > 1)
        raise _refusal(f"The key “{_shown(twice)}” stands twice in one object.")
    return found


def _whole_number(digits: str) -> int:
    if len(digits) > _MAX_DIGITS + digits.startswith("-"):
        raise _refusal(f"The number {digits[:12]}… has more than {_MAX_DIGITS} digits.")
    return int(digits)


def _refuse_constant(name: str) -> NoReturn:
    raise _refusal(f"{name} is no number in JSON.")


def _shown(text: str) -> str:
    return text[:40].encode("utf-8", "replace").decode()


def _refusal(sentence: str) -> InvalidDocument:
    return InvalidDocument(Fault("invalid_document", "", sentence))
