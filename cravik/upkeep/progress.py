"""How far a piece of background work is: told by the worker, read by the page that shows it.

It stands beside the database, where it can be told from within a transaction that nobody sees yet.
"""

from __future__ import annotations

from contextlib import suppress
from typing import NamedTuple

from django.core.cache import caches


class Progress(NamedTuple):
    done: int
    total: int


def tell_progress(work: str, done: int, total: int) -> None:
    """Say how far the ``work`` of that name is. Where that cannot be written, the work goes on untold."""
    with suppress(OSError):
        caches["shared"].set(work, (done, total), 3600)


def progress_of(work: str) -> Progress:
    """How far it is, as far as is known."""
    return Progress(*caches["shared"].get(work, (0, 0)))
