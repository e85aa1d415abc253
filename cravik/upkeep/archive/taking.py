"""Taking an archive while the application goes on.

The database is copied by SQLite's own online back-up (https://sqlite.org/backup.html): one consistent moment.
Pictures and files never change under their names, so those that the copy names are the same a moment later; one that
was removed meanwhile is named as missing.
"""

from __future__ import annotations

import fcntl
import gzip
import hashlib
import os
import shutil
import sqlite3
import tarfile
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from io import BytesIO
from pathlib import Path
from typing import BinaryIO

from django.conf import settings
from django.db import connection

from cravik import VERSION
from cravik.upkeep.archive.locking import ENDING
from cravik.upkeep.archive.manifest import Copy, Kept, Manifest, counts_of, figures_of, named_files
from cravik.upkeep.make import DATABASE, VERSION_FILE, digest_of_steps, steps_of, version_of

SECRET_KEY, MANIFEST = "secret_key", "manifest.json"
FOLDERS = ("pictures", "files")
DAILY, BY_HAND, UPGRADE = "daily", "by-hand", "upgrade"
#: What a database and small files shrink to is little; pictures shrink to nothing less.
_COMPRESSION = 1
_PART = ".part-"
#: Folders in which archives are restored to verify them. One that is there for a day was left by a process that died.
CHECKED = ".checked-"


class BackupFailed(Exception):
    """No archive was made, and nothing is left of the try; the message says why and what to do."""


def take_daily(now: datetime) -> Path:
    """The day's archive. Raises ``BackupFailed``."""
    return _take(f"cravik-{_stamp(now)}-{DAILY}", DAILY, now)


def take_by_hand(now: datetime) -> Path:
    """One that is kept until somebody removes it. Raises ``BackupFailed``."""
    return _take(f"cravik-{_stamp(now)}-{BY_HAND}", BY_HAND, now)


def take_before_upgrade(now: datetime) -> Path:
    """One named for the version that the data is of and for this one, and kept until somebody removes it. Raises
    ``BackupFailed``."""
    was = version_of(settings.DATA_DIR) or "unknown"
    return _take(f"before-{VERSION}-was-{was}-{_stamp(now)}", UPGRADE, now)


def _stamp(now: datetime) -> str:
    return f"{now:%Y%m%dT%H%M%S%f}Z"


def _take(name: str, why: str, now: datetime) -> Path:
    folder, data, lock = Path(settings.CRAVIK_BACKUPS), Path(settings.DATA_DIR), settings.CRAVIK_BACKUP_LOCK
    ending = f".tar.gz{ENDING if lock else ''}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with alone_in(folder), _workplace(folder, name) as place:
            refuse_small_disk(folder, _size_of(data) * (3 if lock else 2))
            plain, copy = place / "plain", place / DATABASE
            _copy_database(copy)
            _write(plain, copy, why, now)
            copy.unlink()
            finished = plain
            if lock:
                finished = place / "locked"
                lock.lock(plain, finished)
            _write_down(finished)
            kept = finished.rename(folder / f"{name}{ending}")
            _write_down(folder)
            return kept
    except (OSError, sqlite3.Error) as trouble:
        raise BackupFailed(f"No back-up could be taken: {trouble}. Check the disk of {folder}.") from trouble


def _write_down(path: Path) -> None:
    """Have the disk keep it, so that it outlives a power cut."""
    descriptor = os.open(path, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


@contextmanager
def alone_in(folder: Path) -> Iterator[None]:
    """One at a time: the next one waits."""
    with (folder / ".one-at-a-time").open("w") as held:
        fcntl.flock(held, fcntl.LOCK_EX)
        yield


@contextmanager
def _workplace(folder: Path, name: str) -> Iterator[Path]:
    """A folder of the moment, removed however the work ends; what killed ones left behind is removed too."""
    for left in [*folder.glob(f"{_PART}*"), *folder.glob("*.part"), *filter(_is_old, folder.glob(f"{CHECKED}*"))]:
        shutil.rmtree(left) if left.is_dir() else left.unlink()
    place = folder / f"{_PART}{name}"
    place.mkdir(mode=0o700)
    try:
        yield place
    finally:
        shutil.rmtree(place, ignore_errors=True)


def _is_old(path: Path) -> bool:
    return time.time() - path.stat().st_mtime > 24 * 3600


def refuse_small_disk(folder: Path, needed: int) -> None:
    """Raises ``BackupFailed`` where the disk would be full before the work is done."""
    free = shutil.disk_usage(folder).free
    if free < needed + 20_000_000:
        raise BackupFailed(
            f"There is no room for a back-up in {folder}: about {needed / 1e6:,.0f} MB are needed, and"
            f" {free / 1e6:,.0f} MB are free. Make room there, or name another disk: CRAVIK_BACKUPS_DIR=…"
        )


def _size_of(data: Path) -> int:
    """About how many bytes an archive comes to before it is compressed."""
    kept = [path for folder in FOLDERS for path in _entries(data / folder)]
    return sum(path.stat().st_size for path in [*kept, Path(connection.settings_dict["NAME"])] if path.exists())


def _entries(folder: Path) -> list[Path]:
    return sorted(path for path in folder.iterdir() if path.is_file()) if folder.is_dir() else []


def _copy_database(target: Path) -> None:
    target.touch(mode=0o600)
    with (
        closing(sqlite3.connect(connection.settings_dict["NAME"], timeout=10)) as source,
        closing(sqlite3.connect(target)) as copy,
    ):
        source.backup(copy, pages=1000)
        copy.execute("PRAGMA journal_mode=DELETE")
        verdict = copy.execute("PRAGMA integrity_check").fetchone()[0]
    if verdict != "ok":
        raise BackupFailed(f"The database's copy is not sound: {verdict}. Check the disk, then try again.")


def _write(archive: Path, database: Path, why: str, now: datetime) -> None:
    """Put everything into the archive, its manifest last."""
    data = Path(settings.DATA_DIR)
    files: dict[str, Kept] = {}
    with (
        archive.open("wb") as raw,
        gzip.GzipFile(
            fileobj=raw, mode="wb", compresslevel=_COMPRESSION, mtime=int(now.timestamp()), filename=""
        ) as packed,
        tarfile.open(fileobj=packed, mode="w", format=tarfile.PAX_FORMAT) as tar,
    ):
        _add_bytes(tar, SECRET_KEY, settings.SECRET_KEY.encode(), files, now)
        _add_bytes(tar, VERSION_FILE, (version_of(data) or VERSION).encode(), files, now)
        _add_file(tar, DATABASE, database, files)
        for folder in FOLDERS:
            for path in _entries(data / folder):
                try:
                    _add_file(tar, f"{folder}/{path.name}", path, files)
                except FileNotFoundError:  # removed since it was listed
                    continue
        with closing(sqlite3.connect(f"{database.as_uri()}?mode=ro", uri=True)) as opened:
            copy = Copy(opened)
            manifest = Manifest(
                version=version_of(data) or VERSION,
                taken_at=now,
                why=why,
                steps=digest_of_steps(steps_of(opened)),
                files=files,
                tables=counts_of(copy),
                figures=figures_of(copy),
                missing=[name for name in named_files(copy) if name not in files],
            )
        _add_bytes(tar, MANIFEST, manifest.as_json().encode(), {}, now)


def _add_file(tar: tarfile.TarFile, name: str, path: Path, files: dict[str, Kept]) -> None:
    with path.open("rb") as file:
        member = tar.gettarinfo(arcname=name, fileobj=file)
        member.mode, member.uid, member.gid, member.uname, member.gname = 0o600, 0, 0, "", ""
        content = _Digested(file)
        tar.addfile(member, content)
    files[name] = Kept(member.size, content.digest.hexdigest())


class _Digested:
    """A file that is read once: what goes into the archive is what the digest is of, also while somebody writes it."""

    def __init__(self, file: BinaryIO) -> None:
        self._file = file
        self.digest = hashlib.sha256()

    def read(self, length: int = -1) -> bytes:
        content = self._file.read(length)
        self.digest.update(content)
        return content


def _add_bytes(tar: tarfile.TarFile, name: str, content: bytes, files: dict[str, Kept], now: datetime) -> None:
    member = tarfile.TarInfo(name)
    member.size, member.mode, member.mtime = len(content), 0o600, int(now.timestamp())
    tar.addfile(member, BytesIO(content))
    files[name] = Kept(len(content), hashlib.sha256(content).hexdigest())
