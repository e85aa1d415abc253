"""Back-ups, taken by SQLite's own online back-up (https://sqlite.org/backup.html).

The copy is one consistent moment, taken while the application goes on; it is checked before it
counts, and the oldest ones beyond ``CRAVIK_BACKUPS_KEPT`` are removed.
"""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings
from django.db import connection


class BackupFailed(Exception):
    """The copy did not pass SQLite's integrity check, and was removed."""


def newest_backup_at() -> datetime | None:
    """When the newest back-up was taken, or None where there is none."""
    taken = [copy.stat().st_mtime for copy in (settings.DATA_DIR / "backups").glob("cravik-*.sqlite3")]
    return datetime.fromtimestamp(max(taken), UTC) if taken else None


def back_up_before_upgrade(versions: tuple[str, str], now: datetime) -> Path:
    """Copy the database before it is carried over from one version to another, under both of their names. It is kept
    until somebody removes it. Raises ``BackupFailed``."""
    was, becomes = versions
    return _back_up(f"before-{becomes}-was-{was or 'unknown'}-{now:%Y%m%dT%H%M%S}Z.sqlite3")


def back_up_database(now: datetime) -> Path:
    """Copy the database into the back-ups folder and return the copy's path. What fails leaves nothing behind.

    Raises ``BackupFailed`` for a copy that is not sound.
    """
    target = _back_up(f"cravik-{now:%Y%m%dT%H%M%S%f}Z.sqlite3")
    for old in sorted(target.parent.glob("cravik-*.sqlite3"))[: -settings.CRAVIK_BACKUPS_KEPT]:
        old.unlink()
    return target


def _back_up(name: str) -> Path:
    folder = Path(settings.DATA_DIR) / "backups"
    folder.mkdir(parents=True, exist_ok=True)
    target = folder / name
    unfinished = target.with_suffix(".part")
    for left in folder.glob("*.part*"):  # of a back-up that was killed
        left.unlink()
    try:
        _copy_to(unfinished)
        unfinished.rename(target)
    except BaseException:
        for left in folder.glob(f"{unfinished.name}*"):
            left.unlink()
        raise
    return target


def _copy_to(file: Path) -> None:
    file.touch(mode=0o600)
    with (
        closing(sqlite3.connect(connection.settings_dict["NAME"], timeout=10)) as source,
        closing(sqlite3.connect(file)) as copy,
    ):
        source.backup(copy, pages=1000)
        copy.execute("PRAGMA journal_mode=DELETE")
        verdict = copy.execute("PRAGMA integrity_check").fetchone()[0]
    if verdict != "ok":
        raise BackupFailed(f"The copy failed its integrity check: {verdict}. Check the disk, then try again.")
