"""The kinds of events: each a frozen dataclass with the fields of its kind, registered under its name.

    @of_kind("link.renamed")
    @dataclass(frozen=True)
    class LinkRenamed:
        name: str
        former: str

        def words(self) -> str:
            return f"Renamed from “{self.former}”"

A name is never given to another kind, and a field is never taken away: what was written stays readable. A field that
comes later has a default.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any, ClassVar, Protocol, TypeVar


class Happening(Protocol):
    """What of an event is its kind's: plain fields (text, whole numbers, yes or no), and how a timeline says it."""

    __dataclass_fields__: ClassVar[dict[str, Any]]

    def words(self) -> str: ...


Kind = TypeVar("Kind", bound=type)

_KINDS: dict[str, type] = {}
_NAMES: dict[type, str] = {}


def of_kind(name: str) -> Callable[[Kind], Kind]:
    """Register the dataclass under that name."""

    def register(kind: Kind) -> Kind:
        if name in _KINDS:
            raise ValueError(f"there is a kind of event called {name} already")
        _KINDS[name], _NAMES[kind] = kind, name
        return kind

    return register


def name_of(kind: type) -> str:
    return _NAMES[kind]


def write_data(what: Happening) -> dict[str, Any]:
    return asdict(what)


def read_data(name: str, data: dict[str, Any]) -> Happening | None:
    """The fields of an event of that kind; None for one that this version does not know."""
    kind = _KINDS.get(name)
    return kind(**data) if kind else None
