"""What may be lost by a power cut, and is not waited for."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection

_NORMAL, _FULL = 1, 2


@contextmanager
def outliving_no_power_cut() -> Iterator[None]:
    """Let what is committed meanwhile reach the disk with whatever is committed next, instead of waiting for it.

    A process that is killed loses nothing of it; a machine that loses its power may lose the newest of it, and never
    what was committed outside of this (``synchronous=NORMAL``: https://sqlite.org/pragma.html#pragma_synchronous).
    Within a transaction that is under way already it does nothing.
    """
    connection.ensure_connection()
    opened = connection.connection
    if connection.in_atomic_block or opened.execute("PRAGMA synchronous").fetchone()[0] < _FULL:
        yield
        return
    opened.execute(f"PRAGMA synchronous={_NORMAL}")
    try:
        yield
    finally:
        if connection.connection is opened:
            opened.execute(f"PRAGMA synchronous={_FULL}")
