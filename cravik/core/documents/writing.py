"""Writing the core's frozen dataclasses as parts of a JSON document.

>>> from cravik.core.pricing.options import Option
>>> from cravik.core.pricing.money import Money
>>> written(Option("1.2 m", add=Money(-600, "EUR")))
{'name': '1.2 m', 'add': '-6.00'}
"""

from __future__ import annotations

from dataclasses import MISSING, fields, is_dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent


def written(part: Any) -> dict[str, Any]:
    """``part`` (a dataclass) as a JSON object; what has its default is left out."""
    document: dict[str, Any] = {"kind": part.kind} if hasattr(part, "kind") else {}
    for field in fields(part):
        value = getattr(part, field.name)
        default = field.default if field.default_factory is MISSING else field.default_factory()
        if default is MISSING or value != default:
            document[field.name.removesuffix("_")] = _value(value)
    return document


def _value(value: Any) -> Any:
    match value:
        case Money():
            return value.major
        case Percent():
            return value.text
        case Decimal():
            return int(value) if value == value.to_integral_value() else f"{value:f}"
        case date():  # an instant is one, too
            return value.isoformat()
        case tuple():
            return [_value(each) for each in value]
        case dict():
            return {key: _value(each) for key, each in value.items()}
        case _ if is_dataclass(value):
            return written(value)
        case _:
            return value
