"""One supervisor a data folder, whose children never outlive it, and files that are their owner's alone."""

from __future__ import annotations

import ctypes
import fcntl
import os
import signal
import sys
from pathlib import Path
from typing import IO

#: Nothing that the application writes is readable by others.
UMASK = 0o077
_PR_SET_PDEATHSIG = 1  # prctl(2)


class AlreadyRunning(Exception):
    """Another supervisor holds the data folder; ``process`` is its id, where it is known."""

    def __init__(self, folder: Path, process: str) -> None:
        named = f" (process {process})" if process else ""
        super().__init__(
            f"Cravik already runs on the data folder {folder}{named}. Stop it first, or name another folder:"
            " CRAVIK_DATA_DIR=… make serve"
        )
        self.process = process


def hold_folder(folder: Path) -> IO[str]:
    """Keep the data folder for this process for as long as it lives. Raises ``AlreadyRunning``.

    The kernel gives the lock up with the process, however that ends; the file stays.
    """
    folder.mkdir(parents=True, exist_ok=True)
    held = (folder / "supervisor").open("a+")
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        held.seek(0)
        process = held.read(20).strip()
        held.close()
        raise AlreadyRunning(folder, process) from None
    held.truncate(0)
    held.write(str(os.getpid()))
    held.flush()
    return held


def keep_to_owner(folder: Path, backups: Path) -> None:
    """Take away from others what an earlier make let them read: the folder itself, its database and its back-ups."""
    os.umask(UMASK)
    folder.chmod(0o700)
    kept = [*folder.glob("cravik.sqlite3*"), folder / "secret_key"]
    if backups.is_relative_to(folder):  # another disk's folder may be shared, and its modes are its owner's to set
        kept += backups.glob("*")
    for path in kept:
        if path.is_file():
            path.chmod(0o600)


def end_with_parent(parent: int) -> None:
    """In a child just forked: be ended when the process ``parent`` is, even if that was killed (Linux alone)."""
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)
    if os.getppid() != parent:  # it ended before this was said
        raise SystemExit(1)
