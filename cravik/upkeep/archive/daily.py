"""The day's back-up: taken before a day is over since the last one, verified at once, tried again soon where it
failed."""

from __future__ import annotations

import json
from contextlib import suppress
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from pathlib import Path

import structlog
from django.conf import settings

from cravik.upkeep.archive.shelf import Archive, check, clear_away, shelf
from cravik.upkeep.archive.taking import DAILY, BackupFailed, take_daily
from cravik.upkeep.hooks import Hook

logger = structlog.stdlib.get_logger("cravik.backup")

#: The clock looks every few minutes, so no gap grows to a day.
DUE_AFTER = timedelta(hours=23, minutes=40)
_CLOCKS_DIFFER = timedelta(hours=1)
TRY_AGAIN_AFTER = timedelta(minutes=20)

#: Asked when back-ups begin to fail, with the sentence that says why.
backups_began_to_fail: Hook[[str, datetime], None] = Hook("cravik.upkeep.archive.daily.backups_began_to_fail")


@dataclass(frozen=True)
class Trouble:
    """That back-ups fail: since when, the last try, and why it failed."""

    since: datetime
    last: datetime
    words: str


def newest_daily(*, sound: bool = True) -> Archive | None:
    """The newest of the archives that are taken by themselves; only of those that were found sound, if so asked."""
    return next((each for each in shelf() if each.why == DAILY and (each.is_sound or not sound)), None)


def take_daily_if_due(now: datetime) -> str:
    """Take the day's archive and verify it, if it is time, else those that nobody has yet; say what was done."""
    trouble, newest = trouble_now(), newest_daily()
    # One of the future was taken by a clock that went wrong, and counts for nothing.
    if newest and -_CLOCKS_DIFFER < now - newest.taken_at < DUE_AFTER and not trouble:
        return check_unknown(now)
    if trouble and now - trouble.last < TRY_AGAIN_AFTER:
        return "the next try is a little later"
    try:
        taken = take_daily(now)
        known = check(taken, now)
    except BackupFailed as failed:
        return _note_failure(str(failed), trouble, now)
    removed = clear_away()
    if known.faults:
        return _note_failure(f"{taken.name} is not sound: {known.faults[0]}", trouble, now)
    _file().unlink(missing_ok=True)
    logger.info("backed up and verified", file=taken.name, missing=len(known.missing), removed=len(removed))
    return taken.name


def check_unknown(now: datetime) -> str:
    """Verify the archives of which nobody knows whether they are sound: taken before an upgrade, or laid there."""
    unknown = [each for each in shelf() if each.is_unknown]
    for each in unknown:
        with suppress(BackupFailed):  # it is tried again
            check(each.path, now)
    return f"verified {len(unknown)}" if unknown else "there is one"


def trouble_now() -> Trouble | None:
    """Why there is no back-up of the day, while there should be one."""
    with suppress(FileNotFoundError, ValueError, KeyError):
        written = json.loads(_file().read_text(encoding="utf-8"))
        since, last = (datetime.fromisoformat(written[name]) for name in ("since", "last"))
        return Trouble(since, last, written["words"])
    return None


def _note_failure(words: str, before: Trouble | None, now: datetime) -> str:
    noted = Trouble(before.since if before else now, now, words)
    logger.error("the back-up failed; it is tried again soon", why=words, since=noted.since.isoformat())
    draft = _file().with_suffix(".new")
    with suppress(OSError):  # on a full disk the log has said it
        draft.write_text(json.dumps(asdict(noted), default=datetime.isoformat), encoding="utf-8")
        draft.rename(_file())
    if before is None:
        backups_began_to_fail.run(words, now)
    return words


def _file() -> Path:
    """In the data folder: the disk that back-ups lie on may be what is gone."""
    return Path(settings.DATA_DIR) / "backup-trouble.json"
