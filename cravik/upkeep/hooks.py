"""Hooks: where an earlier room lets later ones do their part, without knowing them.

A later app hangs its functions onto a hook when it is ready, both by their dotted paths: neither is imported before the
hook is first called, so that a command starts with no more than it needs. A path that leads nowhere, and a hook that
nobody hangs onto, are mistakes of the wiring, and a system check says so.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property
from typing import Any, Generic, ParamSpec, TypeVar, cast

from django.core import checks
from django.utils.module_loading import import_string

P = ParamSpec("P")
Result = TypeVar("Result")
#: The paths of what is hung onto each hook, by the hook's own path, in the order in which their apps became ready.
_HUNG: dict[str, list[str]] = {}
_ALL: list[Hook[Any, Any]] = []


def hang(hook: str, function: str) -> None:
    """Let the function be called by the hook, once however often it is hung. Both are dotted paths."""
    hung = _HUNG.setdefault(hook, [])
    if function not in hung:
        hung.append(function)


class Hook(Generic[P, Result]):
    """Functions of one signature. ``path`` is where the hook itself stands."""

    def __init__(self, path: str) -> None:
        self.path = path
        _ALL.append(self)

    @cached_property
    def functions(self) -> tuple[Callable[P, Result], ...]:
        """Those that are hung onto it; for whoever has to go on where one of them fails."""
        return tuple(cast(Callable[P, Result], import_string(path)) for path in _HUNG.get(self.path, ()))

    def call(self, *args: P.args, **kwargs: P.kwargs) -> Iterator[Result]:
        """What each function returns. An exception goes to the caller, whose transaction then comes to nothing."""
        for function in self.functions:
            yield function(*args, **kwargs)

    def run(self, *args: P.args, **kwargs: P.kwargs) -> None:
        """Call them all for what they do."""
        for _ in self.call(*args, **kwargs):
            pass


def check_hooks(**_: object) -> list[checks.CheckMessage]:
    """An error for each path that leads to no hook, or to nothing that could be called, and each hook without any."""
    wrong = [error for path, functions in _HUNG.items() for error in _wrong_with(path, functions)]
    unused = [hook.path for hook in _ALL if hook.path not in _HUNG]
    hint = "Hang a function onto it in an app's ready()."
    return [*wrong, *(checks.Error(f"Nobody hangs onto the hook {path}.", hint=hint) for path in unused)]


def _wrong_with(path: str, functions: list[str]) -> Iterator[checks.CheckMessage]:
    hook = _found(path)
    if not isinstance(hook, Hook) or hook.path != path:
        yield checks.Error(f"There is no hook at {path}.", hint="Give a Hook the path at which it stands.")
    for function in functions:
        if not callable(_found(function)):
            yield checks.Error(f"There is nothing to call at {function}.", hint=f"It is hung onto {path}.")


def _found(path: str) -> Any:
    try:
        return import_string(path)
    except ImportError:
        return None
