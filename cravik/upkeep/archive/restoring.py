"""Putting an archive in the place of what there is.

It is unpacked into a new folder inside the data folder and verified there; then the two are exchanged, piece by
piece, by renaming: nothing is written over, and what was there is kept in ``replaced-…``. A note that stands while
pieces are exchanged lets the next start finish what was cut off. Everything is inside the data folder, so it may be a
mount of its own whose parent is not ours.
"""

from __future__ import annotations

import shutil
import tempfile
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from cravik.upkeep.archive.locking import Lock
from cravik.upkeep.archive.manifest import Manifest
from cravik.upkeep.archive.reading import Verdict, unpack
from cravik.upkeep.archive.taking import FOLDERS, MANIFEST, SECRET_KEY
from cravik.upkeep.make import DATABASE, VERSION_FILE

_NEW = "restoring-"
_NOTE = "exchanging"
#: In this order: what SQLite keeps beside a database must never be met by another database.
_PIECES = (f"{DATABASE}-wal", f"{DATABASE}-shm", DATABASE, SECRET_KEY, VERSION_FILE, *FOLDERS)
#: What is of the data that was replaced, and holds for no other.
_OF_THE_OLD = ("shared",)


class NotSound(Exception):
    """The archive differs from what its manifest says, so nothing was changed; ``verdict`` has every fault."""

    def __init__(self, verdict: Verdict) -> None:
        super().__init__("The archive is not sound, so nothing was changed.")
        self.verdict = verdict


@dataclass(frozen=True)
class Restored:
    """What stands in the data folder now, and where that lies which stood there before, if anything did."""

    manifest: Manifest
    replaced: Path | None


def restore(archive: Path, data: Path, lock: Lock, now: datetime, *, despite_faults: bool = False) -> Restored:
    """Put the archive in the place of what the ``data`` folder holds. Nobody may be using that: hold it first.

    Raises ``NotSound`` unless ``despite_faults``, ``Unreadable``, ``WrongKey``, ``OSError``; the folder is then as it
    was.
    """
    data.mkdir(mode=0o700, parents=True, exist_ok=True)
    for left in data.glob(f"{_NEW}*"):
        shutil.rmtree(left)
    new = Path(tempfile.mkdtemp(prefix=_NEW, dir=data))
    try:
        verdict = unpack(archive, new, lock)
        if not verdict.is_sound and not (despite_faults and (new / DATABASE).exists()):
            raise NotSound(verdict)
        (new / MANIFEST).unlink()
        for folder in FOLDERS:
            (new / folder).mkdir(mode=0o700, exist_ok=True)
    except BaseException:
        shutil.rmtree(new, ignore_errors=True)
        raise
    had = (data / DATABASE).exists()
    replaced = data / f"replaced-{now:%Y%m%dT%H%M%S}Z"
    note = data / f".{_NOTE}"
    note.write_text(f"{new.name}\n{replaced.name}\n", encoding="ascii")
    note.rename(data / _NOTE)
    finish_exchange(data)
    return Restored(verdict.manifest, replaced if had else None)


def finish_exchange(data: Path) -> bool:
    """Exchange the pieces that are still to be, if an exchange is under way; returns whether one was.

    A piece of the new folder that is still in it has not been put in place, so what stands in its place is the old one.
    """
    note = data / _NOTE
    if not note.exists():
        return False
    new, replaced = (data / name for name in note.read_text(encoding="ascii").split())
    replaced.mkdir(mode=0o700, exist_ok=True)
    for piece in _OF_THE_OLD:
        if (data / piece).exists() and (new / DATABASE).exists():
            _set_aside(data / piece, replaced)
    for piece in _PIECES:
        is_old = (new / (piece if not piece.startswith(DATABASE) else DATABASE)).exists()
        if is_old and (data / piece).exists():
            _set_aside(data / piece, replaced)
        if (new / piece).exists():
            (new / piece).rename(data / piece)
    if new.exists():
        new.rmdir()
    if not any(replaced.iterdir()):
        replaced.rmdir()
    note.unlink()
    return True


def _set_aside(piece: Path, replaced: Path) -> None:
    """Never over another of the name: a start that was cut off may have made a second one."""
    target, number = replaced / piece.name, 1
    while target.exists():
        target, number = replaced / f"{piece.name}.{number}", number + 1
    piece.rename(target)
