"""What every long list has: columns that it can be sorted by, and what hides a part of it, in words."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Column:
    """A way to sort a list, what pressing it sorts by next, and how it is sorted by it now."""

    label: str
    next: str
    turned: str = ""


def sort_columns(labels: Mapping[str, str], order: str) -> list[Column]:
    """The columns by their names; ``order`` is one of these, with a hyphen where it is turned round."""
    return [_column(name, label, order) for name, label in labels.items()]


def _column(name: str, label: str, order: str) -> Column:
    if order.removeprefix("-") != name:
        return Column(label, name)
    is_turned = order.startswith("-")
    return Column(label, name if is_turned else f"-{name}", "up" if is_turned else "down")


@dataclass(frozen=True)
class Hiding:
    """A part of what is looked for that hides others: its name, what it keeps to, and how it is dropped, in words."""

    name: str
    words: str
    drop: str
