"""Importing a module when something of it is first used, for what a command seldom needs and takes long to import.

The server imports everything before it answers anybody (``load_later``), so no request waits for it.
"""

from __future__ import annotations

from importlib import import_module
from typing import Any

_NAMES: list[str] = []


class Later:
    """Stands for the module of a dotted name, and has its names. Threads that look at once wait for one import.

    A look raises ``ImportError`` where there is no such module.
    """

    def __init__(self, module_name: str) -> None:
        self._module_name = module_name

    def __getattr__(self, name: str) -> Any:
        return getattr(import_module(self._module_name), name)


def later(name: str) -> Any:
    """What stands for the module of that dotted name."""
    _NAMES.append(name)
    return Later(name)


def load_later() -> None:
    """Import every module that something stands for."""
    for name in _NAMES:
        import_module(name)
