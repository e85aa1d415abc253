"""Something that people are told, as data: what it is, and what its words are made of. The words stand elsewhere.

>>> Coded("code_removed", code="GUST")
Coded(code='code_removed', why='', fields={'code': 'GUST'})
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True, init=False)
class Coded:
    """``code`` is stable, and what callers go by; ``why`` tells apart what has one code. ``fields`` are by name."""

    code: str
    why: str
    fields: Mapping[str, Any]

    def __init__(self, code: str, /, *, why: str = "", **fields: Any) -> None:
        for name, value in (("code", code), ("why", why), ("fields", fields)):
            object.__setattr__(self, name, value)

    def is_same_as(self, other: Coded) -> bool:
        """Whether both say the same, wherever they stand."""
        return (self.code, self.why, self.fields) == (other.code, other.why, other.fields)
