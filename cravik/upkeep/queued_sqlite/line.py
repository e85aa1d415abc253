"""The line in which writers wait: first within their process, then, one a process, before the others.

The first place of each process is taken by an advisory lock on a file beside the database (flock(2)), which is looked
for every half millisecond; were every thread to look for it, most of a busy process's time would go there.
"""

from __future__ import annotations

import fcntl
import os
import time
from collections.abc import Callable
from threading import Lock

from django.db import OperationalError

_LOOK_EVERY = 0.0005
_WITHIN: dict[str, Lock] = {}
# Of a process that was forked, no thread is left that could hand its place on.
os.register_at_fork(after_in_child=_WITHIN.clear)


def stand_in_line(name: str, seconds: float) -> Callable[[], None]:
    """Wait for the first place before the database of that file name, and return what leaves it again, once.

    Raises ``OperationalError`` where that takes longer than so many ``seconds``.
    """
    deadline = time.monotonic() + seconds
    within = _WITHIN.setdefault(name, Lock())
    if not within.acquire(timeout=seconds):
        raise OperationalError("database is locked: its queue of writers did not move")
    descriptor = -1
    try:
        descriptor = os.open(f"{name}-queue", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        while not _locked(descriptor):
            if time.monotonic() > deadline:
                raise OperationalError("database is locked: its queue of writers did not move")
            time.sleep(_LOOK_EVERY)
    except BaseException:
        if descriptor >= 0:
            os.close(descriptor)
        within.release()
        raise

    def leave() -> None:
        os.close(descriptor)
        within.release()

    return leave


def _locked(descriptor: int) -> bool:
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    return True
