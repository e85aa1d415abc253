"""Hooks: where an earlier room lets later ones do their part, without knowing them.

A later app hangs its functions onto a hook when it is ready. A hook that nobody hangs onto is a mistake of the wiring,
and a system check says so.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, Generic, ParamSpec, TypeVar

from django.core import checks

P = ParamSpec("P")
Result = TypeVar("Result")
_ALL: list[Hook[Any, Any]] = []


class Hook(Generic[P, Result]):
    """Functions of one signature, called in the order in which their apps became ready."""

    def __init__(self, name: str) -> None:
        self.name = name
        self._functions: list[Callable[P, Result]] = []
        _ALL.append(self)

    def hang(self, function: Callable[P, Result]) -> None:
        """Let ``function`` be called, once however often it is hung."""
        if function not in self._functions:
            self._functions.append(function)

    def call(self, *args: P.args, **kwargs: P.kwargs) -> Iterator[Result]:
        """What each function returns. An exception goes to the caller, whose transaction then comes to nothing."""
        for function in self._functions:
            yield function(*args, **kwargs)

    def run(self, *args: P.args, **kwargs: P.kwargs) -> None:
        """Call them all for what they do."""
        for _ in self.call(*args, **kwargs):
            pass

    @property
    def functions(self) -> tuple[Callable[P, Result], ...]:
        """For whoever has to go on where one of them fails."""
        return tuple(self._functions)

    @property
    def is_used(self) -> bool:
        return bool(self._functions)


def check_hooks(**_: object) -> list[checks.CheckMessage]:
    """An error for each hook that nobody hangs onto."""
    return [
        checks.Error(f"Nobody hangs onto the hook “{hook.name}”.", hint="Hang a function onto it in an app's ready().")
        for hook in _ALL
        if not hook.is_used
    ]
