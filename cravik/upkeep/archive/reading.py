"""Unpacking an archive into an empty folder, and holding what came out against what its manifest says."""

from __future__ import annotations

import gzip
import os
import re
import shutil
import sqlite3
import tarfile
import tempfile
import zlib
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import cast

from cravik import VERSION
from cravik.core.english import counted
from cravik.upkeep.archive.locking import ENDING, Lock
from cravik.upkeep.archive.manifest import Copy, Manifest, counts_of, digest_of_file, figures_of
from cravik.upkeep.archive.taking import CHECKED, MANIFEST, SECRET_KEY, refuse_small_disk
from cravik.upkeep.make import DATABASE, is_newer, why_tables_differ

_MEMBER = re.compile(r"(cravik\.sqlite3|secret_key|version|manifest\.json|(pictures|files)/[\w.-]{1,120})", re.ASCII)
_GZIP = b"\x1f\x8b"


class Unreadable(Exception):
    """The file is no archive, or so damaged that nothing can be said of it; the message says which."""


@dataclass(frozen=True)
class Verdict:
    """What an archive holds, and what is wrong with it, a sentence each; ``missing`` were not there when it was
    taken."""

    manifest: Manifest
    faults: tuple[str, ...]

    @property
    def missing(self) -> list[str]:
        return self.manifest.missing

    @property
    def is_sound(self) -> bool:
        return not self.faults


def verify(archive: Path, lock: Lock) -> Verdict:
    """Restore it into an empty folder, compare, and remove that folder.

    Raises ``Unreadable``, ``WrongKey``, and ``BackupFailed`` where there is no room.
    """
    _refuse_no_file(archive)
    place = archive.parent if os.access(archive.parent, os.W_OK) else Path(tempfile.gettempdir())
    refuse_small_disk(place, archive.stat().st_size * 3)
    with tempfile.TemporaryDirectory(prefix=CHECKED, dir=place) as folder:
        return unpack(archive, Path(folder), lock)


def unpack(archive: Path, folder: Path, lock: Lock) -> Verdict:
    """Unpack it into the empty ``folder`` and compare. Raises ``Unreadable`` and ``WrongKey``."""
    try:
        with _plain(archive, folder, lock) as plain:
            _extract(plain, folder)
    except (tarfile.TarError, gzip.BadGzipFile, zlib.error, EOFError, FileExistsError) as trouble:
        raise Unreadable(f"{archive.name} is damaged or cut off: {trouble}.") from trouble
    manifest_file = folder / MANIFEST
    if not manifest_file.exists():
        raise Unreadable(f"{archive.name} ends before its manifest: it is cut off, or no archive of Cravik.")
    try:
        manifest = Manifest.read(manifest_file.read_text(encoding="utf-8"))
    except ValueError as trouble:
        raise Unreadable(f"{archive.name} cannot be read: its manifest is {trouble}.") from trouble
    return Verdict(manifest, tuple(_faults(folder, manifest)))


@contextmanager
def _plain(archive: Path, folder: Path, lock: Lock) -> Iterator[Path]:
    """The archive as a gzipped tar, opened first if it is locked."""
    _refuse_no_file(archive)
    if archive.suffix == ENDING:
        opened = folder / ".opened"
        try:
            lock.open(archive, opened)
            yield opened
        finally:
            opened.unlink(missing_ok=True)
        return
    with archive.open("rb") as file:
        begins = file.read(16)
    if begins.startswith(b"SQLite format 3"):
        raise Unreadable(
            f"{archive.name} is a copy of a database alone, as versions before 0.2 took. To go back to it, stop Cravik,"
            f" put it in the place of {DATABASE}, and remove {DATABASE}-wal and {DATABASE}-shm."
        )
    if not begins.startswith(_GZIP):
        raise Unreadable(f"{archive.name} is no archive of Cravik: it should be a .tar.gz, or a .tar.gz{ENDING}.")
    yield archive


def _refuse_no_file(archive: Path) -> None:
    if not archive.is_file():
        raise Unreadable(f"There is no file {archive}.")


def _extract(plain: Path, folder: Path) -> None:
    """Only what an archive has, only as files: a foreign archive can put nothing anywhere else."""
    with gzip.open(plain) as packed, tarfile.open(fileobj=packed, mode="r:") as tar:
        for member in tar:
            if not (member.isfile() and _MEMBER.fullmatch(member.name)):
                raise tarfile.ReadError(f"it holds {member.name[:80]!r}, which no archive of Cravik does")
            target = folder / member.name
            target.parent.mkdir(mode=0o700, exist_ok=True)
            with target.open("xb") as out:
                shutil.copyfileobj(cast("tarfile.ExFileObject", tar.extractfile(member)), out, 1 << 20)
            target.chmod(0o600)
        while packed.read(1 << 20):  # to the end, where gzip's own digest stands
            pass


def _faults(folder: Path, manifest: Manifest) -> Iterator[str]:
    """What differs between what was unpacked and what the manifest says."""
    for needed in (DATABASE, SECRET_KEY):
        if needed not in manifest.files:
            yield f"It has no {needed}."
    for name, kept in manifest.files.items():
        path = folder / name
        if not path.exists():
            yield f"{name} is missing, which its manifest names."
        elif (found := digest_of_file(path)) != kept:
            yield f"{name} is not what was put in: {found.bytes:,} bytes, where {kept.bytes:,} were."
    known = {*manifest.files, MANIFEST}
    for path in sorted(folder.rglob("*")):
        if path.is_file() and str(path.relative_to(folder)) not in known:
            yield f"{path.relative_to(folder)} is there, which its manifest does not name."
    if (folder / DATABASE).exists():
        yield from _faults_of_database(folder / DATABASE, manifest)


def _faults_of_database(database: Path, manifest: Manifest) -> Iterator[str]:
    try:
        with closing(sqlite3.connect(f"{database.absolute().as_uri()}?mode=ro&immutable=1", uri=True)) as opened:
            sound = opened.execute("PRAGMA integrity_check(1)").fetchone()[0]
            if sound != "ok":
                yield f"The database is not sound: {sound}."
                return
            astray = len(opened.execute("PRAGMA foreign_key_check").fetchall())
            if astray:
                yield f"{counted(astray, 'row', 'rows')} of the database lead to rows that are not there."
            copy = Copy(opened)
            if (tables := counts_of(copy)) != manifest.tables:
                yield f"Counts and sums of the database differ: {', '.join(_different(tables, manifest.tables))}."
            if manifest.version == VERSION and figures_of(copy) != manifest.figures:
                yield "Orders or money in the database are not what the manifest says."
            if is_newer(manifest.version):
                yield f"It is of version {manifest.version} of Cravik, and this is {VERSION}, which does not read it."
            elif otherwise := why_tables_differ(opened):
                yield f"It is of version {manifest.version}, but {otherwise}."
    except sqlite3.DatabaseError as trouble:
        yield f"The database cannot be read: {trouble}."


def _different(found: dict[str, dict[str, int]], stated: dict[str, dict[str, int]]) -> list[str]:
    return sorted(table for table in found.keys() | stated.keys() if found.get(table) != stated.get(table))
