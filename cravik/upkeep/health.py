"""How the installation is: checks that find something out, with a sentence and with figures, for machines and for
people.

A check is hung onto ``health_checks`` by the app that knows; ``cravik.setup.health_views`` shows them as JSON, as
metrics and as a page.
"""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from contextlib import closing, suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path

import structlog
from django.conf import settings
from django.db import DatabaseError, connection
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from cravik import VERSION
from cravik.core.english import counted
from cravik.upkeep.archive.daily import newest_daily, trouble_now
from cravik.upkeep.hooks import Hook
from cravik.upkeep.make import opened_untouched, why_tables_differ
from cravik.upkeep.models import Tries
from cravik.upkeep.pulse import last_beat

logger = structlog.stdlib.get_logger("cravik.health")

STALE_AFTER = timedelta(minutes=3)
QUEUED_TOO_LONG = timedelta(minutes=10)
BACKUP_TOO_OLD = timedelta(hours=25)
LEAST_ROOM = 200_000_000
_FIRST_HOUR = timedelta(hours=1)


@dataclass(frozen=True)
class Measure:
    """One figure: its name as Prometheus has it, without the product's; seconds and bytes, never anything private."""

    name: str
    value: float
    help: str


@dataclass(frozen=True)
class Check:
    """What was found out of one thing. ``words`` say it to a person, with what to do where it is not well."""

    name: str
    title: str
    is_well: bool
    words: str
    measures: list[Measure] = field(default_factory=list)


#: What each app can tell of how it is.
health_checks: Hook[[datetime], Check] = Hook("cravik.upkeep.health.health_checks")


def look_into(now: datetime) -> list[Check]:
    """Make all checks. One that cannot be made is not well."""
    found = []
    for check in health_checks.functions:
        try:
            found.append(check(now))
        except (DatabaseError, OSError) as trouble:
            logger.warning("a check failed", check=check.__name__, trouble=str(trouble))
            name = check.__name__
            found.append(
                Check(name, name.replace("_", " ").capitalize(), False, f"It could not be looked into: {trouble}.")
            )
    return found


def database(now: datetime) -> Check:
    """Whether it takes a write, which is committed to the disk."""
    try:
        Tries.objects.update_or_create(key="health", defaults={"taken": 0, "until": now + timedelta(days=1)})
    except DatabaseError as trouble:
        return Check("database", "Database", False, f"It takes no write: {trouble}. Look at its disk.")
    finally:
        size = sum(each.stat().st_size for each in _files_of_database())
    words = f"It takes writes. It has {size / 1e6:,.1f} MB."
    return Check(
        "database", "Database", True, words, [Measure("database_bytes", size, "Size of the database and its log")]
    )


def tables(_: datetime) -> Check:
    """Whether they are those of this version."""
    with closing(opened_untouched(Path(connection.settings_dict["NAME"]))) as opened:
        differ = why_tables_differ(opened)
    words = (
        f"{differ[0].upper()}{differ[1:]}. Restore a back-up." if differ else f"They are those of version {VERSION}."
    )
    return Check("tables", "Tables", not differ, words)


def worker(now: datetime) -> Check:
    """Whether background work moves: its pulse, and how long anything has waited for it."""
    # The supervisor took hold of the folder at the start; the worker needs a moment until its first sign.
    beat, begun = last_beat(), _changed_at("supervisor")
    alive = max(each for each in (beat, begun, datetime.fromtimestamp(0, UTC)) if each)
    waiting = DBTaskResult.objects.filter(status=TaskResultStatus.READY)
    number = waiting.count()
    oldest = waiting.order_by("enqueued_at").values_list("enqueued_at", flat=True).first()
    age = max(now - oldest, timedelta(0)) if oldest else timedelta(0)
    since = max(now - alive, timedelta(0))
    measures = [
        Measure("worker_pulse_age_seconds", since.total_seconds(), "Since the worker last gave a sign of life"),
        Measure("tasks_waiting", number, "Tasks that wait for the worker"),
        Measure("tasks_oldest_age_seconds", age.total_seconds(), "How long the oldest of them has waited"),
    ]
    if since > STALE_AFTER:
        words = f"It has not moved since {alive:%d %B, %H:%M} UTC. Start Cravik again; the log says why."
    elif age > QUEUED_TOO_LONG:
        words = f"{counted(number, 'task', 'tasks')} wait, the oldest for {age.total_seconds() / 60:,.0f} minutes."
    else:
        words = f"It moves. {counted(number, 'task waits', 'tasks wait') if number else 'Nothing waits'}."
    return Check("worker", "Background work", since <= STALE_AFTER and age <= QUEUED_TOO_LONG, words, measures)


def room(_: datetime) -> Check:
    """Whether the disks have room: that of the data and that of the back-ups."""
    free = shutil.disk_usage(settings.DATA_DIR).free
    backups = Path(settings.CRAVIK_BACKUPS)
    spare = shutil.disk_usage(backups).free if backups.is_dir() else free
    measures = [
        Measure("disk_free_bytes", free, "Room on the disk of the data"),
        Measure("backup_disk_free_bytes", spare, "Room on the disk of the back-ups"),
    ]
    least = min(free, spare)
    words = f"{least / 1e9:,.1f} GB are free."
    if least < LEAST_ROOM:
        words = f"Only {least / 1e6:,.0f} MB are free. Make room before payments cannot be written down."
    return Check("room", "Room on the disk", least >= LEAST_ROOM, words, measures)


def backups(now: datetime) -> Check:
    """Whether the newest back-up is of today and was verified."""
    trouble, newest = trouble_now(), newest_daily()
    measures = []
    if newest:
        age = max(now - newest.taken_at, timedelta(0))
        measures = [
            Measure("backup_age_seconds", age.total_seconds(), "Since the newest verified back-up was taken"),
            Measure("backup_bytes", newest.bytes, "Size of the newest verified back-up"),
        ]
    measures.append(Measure("backup_failing", 1 if trouble else 0, "Whether taking or verifying it fails"))
    begun = _changed_at("version")  # when this version took the folder over
    is_new = begun is not None and now - begun < _FIRST_HOUR
    if trouble:
        words = f"It has failed since {trouble.since:%d %B, %H:%M} UTC, and is tried again: {trouble.words}"
    elif newest is None:
        words = "The first daily one is taken within minutes." if is_new else "There is none yet. Take one now."
    else:
        hours = age.total_seconds() / 3600
        words = f"The newest was taken {'within the hour' if hours < 1 else f'{hours:,.0f} hours ago'}, and verified."
    is_well = not trouble and (is_new if newest is None else now - newest.taken_at <= BACKUP_TOO_OLD)
    return Check("backups", "Back-ups", is_well, words, measures)


def _files_of_database() -> Iterator[Path]:
    name = Path(connection.settings_dict["NAME"])
    yield from (each for each in (name, name.with_name(f"{name.name}-wal")) if each.exists())


def _changed_at(name: str) -> datetime | None:
    """When that file of the data folder was last written; None where it is not there."""
    with suppress(OSError):
        return datetime.fromtimestamp((Path(settings.DATA_DIR) / name).stat().st_mtime, UTC)
    return None
