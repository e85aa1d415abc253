"""How long a writer waits for the database, where that is less than the database's own timeout."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_SECONDS: ContextVar[float | None] = ContextVar("patience", default=None)


@contextmanager
def patience(seconds: float) -> Iterator[None]:
    """Let a write that is begun meanwhile fail after so many ``seconds`` instead of waiting on."""
    before = _SECONDS.set(seconds)
    try:
        yield
    finally:
        _SECONDS.reset(before)


def seconds_to_wait(usual: float) -> float:
    """The patience of the moment, at most the ``usual`` one."""
    asked = _SECONDS.get()
    return usual if asked is None else min(asked, usual)
