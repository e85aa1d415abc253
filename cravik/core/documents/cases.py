"""Quoting documents one by one: a line of a batch in, a row of answers out.

>>> answer_line(b'{"id": "x", "offer": {}, "basket": {}}').row["errors"][0]["code"]
'invalid_document'
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any, BinaryIO, NamedTuple, TypeVar

from cravik.core.documents.basket import read_basket
from cravik.core.documents.json_text import MAX_DOCUMENT_BYTES, read_json
from cravik.core.documents.offer import read_offer
from cravik.core.documents.quote import write_fault, write_quote, write_refusals
from cravik.core.errors import BasketRefused, Fault, InvalidDocument
from cravik.core.pricing.quote import quote

_Part = TypeVar("_Part")


class Answer(NamedTuple):
    """A row of a batch's output, and whether it is a quote."""

    row: dict[str, Any]
    is_quoted: bool


def answers(lines: BinaryIO) -> Iterator[Answer]:
    """An answer for each line that is not empty, one after the other: memory does not grow with the file."""
    while line := lines.readline(MAX_DOCUMENT_BYTES + 1):
        if len(line) > MAX_DOCUMENT_BYTES:
            while line and not line.endswith(b"\n"):  # the rest of the line that is too long
                line = lines.readline(MAX_DOCUMENT_BYTES)
            yield _invalid(None, [Fault("invalid_document", why="row_too_long", most=MAX_DOCUMENT_BYTES)])
        elif line.strip():
            yield answer_line(line)


def answer_line(line: bytes) -> Answer:
    """The answer to one case, ``{"id", "offer", "basket"}``. Whatever is wrong stands in the row."""
    try:
        case = read_json(line)
    except InvalidDocument as error:
        return _invalid(None, error.faults)
    if not isinstance(case, dict):
        return _invalid(None, [Fault("invalid_document", why="not_a_case")])
    name = case.get("id")
    faults: list[Fault] = []
    offer, basket = _part(case, "offer", read_offer, faults), _part(case, "basket", read_basket, faults)
    if offer is None or basket is None:
        return _invalid(name, faults)
    try:
        return Answer({"id": name, **write_quote(quote(offer, basket))}, True)
    except BasketRefused as refused:
        return Answer({"id": name, **write_refusals(refused.faults)}, False)


def _part(case: dict[str, Any], part: str, read: Callable[[object], _Part], faults: list[Fault]) -> _Part | None:
    """One of the case's two documents; what is wrong with it says in which of them it stands."""
    try:
        return read(case.get(part))
    except InvalidDocument as error:
        faults += [Fault(fault.code, fault.at, why=fault.why, **fault.fields, within=part) for fault in error.faults]
        return None


def _invalid(name: object, faults: Sequence[Fault]) -> Answer:
    return Answer({"id": name, "errors": [write_fault(fault) for fault in faults]}, False)
