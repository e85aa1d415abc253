"""The folder of archives: which there are, what was found when each was verified, and which are cleared away.

What is known of an archive stands in a small file beside it, so that the folder tells the same to whoever looks,
whatever database is in use.
"""

from __future__ import annotations

import json
import re
from contextlib import suppress
from dataclasses import asdict, dataclass, field
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings

from cravik.upkeep.archive.keeping import spared
from cravik.upkeep.archive.locking import ENDING, WrongKey
from cravik.upkeep.archive.reading import Unreadable, verify
from cravik.upkeep.archive.taking import BY_HAND, DAILY, UPGRADE, BackupFailed

_STAMP = re.compile(r"(\d{8}T\d{6}(\d{1,6})?)Z")
#: Such as an earlier version took, of the database alone.
_BARE = ".sqlite3"


@dataclass(frozen=True)
class Known:
    """What was found when an archive was verified; ``checked_at`` says when."""

    checked_at: datetime
    version: str = ""
    figures: dict[str, int] = field(default_factory=dict)
    faults: list[str] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class Archive:
    """One file of the shelf; ``known`` is None until it has been verified."""

    path: Path
    why: str
    taken_at: datetime
    bytes: int
    known: Known | None

    @property
    def name(self) -> str:
        return self.path.name

    @property
    def is_locked(self) -> bool:
        return self.path.suffix == ENDING

    @property
    def is_bare(self) -> bool:
        return self.path.suffix == _BARE

    @property
    def is_unknown(self) -> bool:
        return self.known is None and not self.is_bare

    @property
    def is_sound(self) -> bool:
        return self.known is not None and not self.known.faults

    @property
    def is_spoiled(self) -> bool:
        return self.known is not None and bool(self.known.faults)


def shelf() -> list[Archive]:
    """All archives in the folder, the newest first."""
    folder = Path(settings.CRAVIK_BACKUPS)
    if not folder.is_dir():
        return []
    found = (_archive(path) for path in folder.iterdir() if path.name.endswith((".tar.gz", f".tar.gz{ENDING}", _BARE)))
    return sorted((each for each in found if each), key=lambda archive: archive.taken_at, reverse=True)


def archive_named(name: str) -> Archive | None:
    """The archive of that name, or None; nothing outside of the folder has one."""
    return next((archive for archive in shelf() if archive.name == name), None)


def check(path: Path, now: datetime) -> Known:
    """Verify an archive and note what was found beside it. Raises ``BackupFailed`` where there is no room to."""
    try:
        verdict = verify(path, settings.CRAVIK_BACKUP_LOCK)
    except (Unreadable, WrongKey) as trouble:
        known = Known(now, faults=[str(trouble)])
    except OSError as trouble:
        raise BackupFailed(f"{path.name} could not be verified: {trouble}.") from trouble
    else:
        manifest = verdict.manifest
        known = Known(now, manifest.version, manifest.figures, list(verdict.faults), manifest.missing)
    draft = path.parent / f".{path.name}.json"
    draft.write_text(json.dumps(asdict(known) | {"checked_at": now.isoformat()}, indent=1), encoding="utf-8")
    draft.rename(_beside(path))
    return known


def forget_known(archive: Archive) -> None:
    """Let it be verified anew."""
    _beside(archive.path).unlink(missing_ok=True)


def clear_away() -> list[Path]:
    """Remove the daily archives that the rule does not keep, and those found spoiled but for the newest, which goes
    when there is a sound one since; returns them. Those made by hand, and before an upgrade, are never among them."""
    daily = [archive for archive in shelf() if archive.why == DAILY]
    outlived = [each for each in daily[1:] if each.is_spoiled]
    counting = [each for each in daily if not each.is_spoiled]
    kept = spared((each.taken_at for each in counting), settings.CRAVIK_BACKUPS_KEPT)
    gone = [*outlived, *(each for each in counting if each.taken_at not in kept)]
    for each in gone:
        remove(each)
    return [each.path for each in gone]


def remove(archive: Archive) -> None:
    """Take an archive from the disk."""
    archive.path.unlink(missing_ok=True)
    _beside(archive.path).unlink(missing_ok=True)


def _archive(path: Path) -> Archive | None:
    with suppress(FileNotFoundError):  # removed since it was listed
        about = path.stat()
        why = UPGRADE if path.name.startswith("before-") else BY_HAND if BY_HAND in path.name else ""
        if not why:
            why = DAILY if path.name.startswith("cravik-") else BY_HAND  # a file that somebody laid there
        return Archive(path, why, _taken_at(path.name, about.st_mtime), about.st_size, _known(path))
    return None


def _taken_at(name: str, changed: float) -> datetime:
    """As its name says; of one that does not, when the file was written."""
    stamp = _STAMP.search(name)
    if stamp:
        with suppress(ValueError):
            layout = "%Y%m%dT%H%M%S%f" if stamp[2] else "%Y%m%dT%H%M%S"
            return datetime.strptime(stamp[1], layout).replace(tzinfo=UTC)
    return datetime.fromtimestamp(changed, UTC)


def _beside(path: Path) -> Path:
    return path.with_name(f"{path.name}.json")


def _known(path: Path) -> Known | None:
    with suppress(FileNotFoundError, ValueError, KeyError, TypeError):
        written = json.loads(_beside(path).read_text(encoding="utf-8"))
        return Known(**written | {"checked_at": datetime.fromisoformat(written["checked_at"])})
    return None
