"""Going on as the same process from the very beginning, with whatever the data folder holds by now.

The lock on the folder, the listening socket and the process that answers “one moment” are handed on through the
environment, so nobody else gets hold of the folder in between, and nobody who asks is refused.
"""

from __future__ import annotations

import os
import socket
import sys
from dataclasses import dataclass
from typing import IO, NoReturn

_HANDED_ON = "CRAVIK_HANDED_ON"


@dataclass(frozen=True)
class HandedOn:
    """What the former beginning left: the lock, the socket, and the id of the process that answers on it."""

    held: IO[str]
    listening: socket.socket
    meanwhile: int


def start_anew() -> NoReturn:
    """Replace this process by a new beginning of itself."""
    for stream in (sys.stdout, sys.stderr):
        stream.flush()
    os.execv(sys.executable, [sys.executable, *sys.orig_argv[1:]])  # noqa: S606


def hand_on(held: IO[str], listening: socket.socket, meanwhile: int) -> NoReturn:
    """The same, and the new beginning has these."""
    for number in (held.fileno(), listening.fileno()):
        os.set_inheritable(number, True)
    os.environ[_HANDED_ON] = f"{held.fileno()} {listening.fileno()} {meanwhile}"
    start_anew()


def taken_over() -> HandedOn | None:
    """What a former beginning handed on; None where this is the first."""
    numbers = os.environ.pop(_HANDED_ON, "")
    if not numbers:
        return None
    held, listening, meanwhile = map(int, numbers.split())
    for number in (held, listening):
        os.set_inheritable(number, False)
    return HandedOn(os.fdopen(held, "a+"), socket.socket(fileno=listening), meanwhile)
