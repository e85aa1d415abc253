"""A restore that somebody asks for on screen: noted in a file, done by the supervisor once all else has stopped.

Both notes lie in the data folder, not in the database, which is what is exchanged.
"""

from __future__ import annotations

import json
import time
from contextlib import suppress
from dataclasses import asdict, dataclass, field
from datetime import datetime
from pathlib import Path

import structlog
from django.conf import settings

from cravik.upkeep.archive.locking import WrongKey
from cravik.upkeep.archive.reading import Unreadable
from cravik.upkeep.archive.restoring import NotSound, restore
from cravik.upkeep.archive.shelf import archive_named
from cravik.upkeep.archive.words import figures_words

logger = structlog.stdlib.get_logger("cravik.restore")

#: Seconds between the asking and the stopping of everything.
_MOMENT = 1.0


@dataclass(frozen=True)
class Outcome:
    """How the last restore on screen went."""

    at: datetime
    archive: str
    is_done: bool
    words: str
    missing: list[str] = field(default_factory=list)


def want_restore(name: str) -> None:
    """Ask for it; the supervisor looks several times a second."""
    draft = _wanted().with_suffix(".new")
    draft.write_text(name, encoding="utf-8")
    draft.rename(_wanted())


def forget_wanted() -> None:
    """At a start: what was asked for before it is not done without being asked for again."""
    _wanted().unlink(missing_ok=True)


def is_wanted() -> bool:
    """Whether it was asked for a moment ago, so that whoever asked has their answer."""
    with suppress(FileNotFoundError):
        return time.time() - _wanted().stat().st_mtime > _MOMENT
    return False


def restore_wanted(now: datetime) -> Outcome:
    """Do what was asked for, and note how it went. Nobody may be using the data folder. It is asked for once: what
    cannot be restored is said, and the application goes on with what it has."""
    name = _wanted().read_text(encoding="utf-8")
    _wanted().unlink()
    archive = archive_named(name)
    try:
        if archive is None:
            raise Unreadable(f"There is no back-up {name} any more.")
        done = restore(archive.path, Path(settings.DATA_DIR), settings.CRAVIK_BACKUP_LOCK, now)
    except NotSound as bad:
        outcome = Outcome(now, name, False, f"{bad} {' '.join(bad.verdict.faults[:20])}")
    except (Unreadable, WrongKey, OSError) as trouble:
        outcome = Outcome(now, name, False, f"{trouble} Nothing was changed.")
    else:
        manifest = done.manifest
        replaced = f" What was there before lies in {done.replaced}." if done.replaced else ""
        words = f"It is as of {manifest.taken_at:%d %B %Y, %H:%M} UTC: {figures_words(manifest.figures)}.{replaced}"
        outcome = Outcome(now, name, True, words, manifest.missing)
    if outcome.is_done:
        logger.info("restored", archive=name, words=outcome.words)
    else:
        logger.error("not restored", archive=name, words=outcome.words)
    _outcome().write_text(json.dumps(asdict(outcome), default=datetime.isoformat), encoding="utf-8")
    return outcome


def last_outcome() -> Outcome | None:
    """How the last one went, until it is put aside."""
    with suppress(FileNotFoundError, ValueError, KeyError, TypeError):
        written = json.loads(_outcome().read_text(encoding="utf-8"))
        return Outcome(**written | {"at": datetime.fromisoformat(written["at"])})
    return None


def put_outcome_aside() -> None:
    _outcome().unlink(missing_ok=True)


def _wanted() -> Path:
    return Path(settings.DATA_DIR) / "restore-wanted"


def _outcome() -> Path:
    return Path(settings.DATA_DIR) / "restored.json"
