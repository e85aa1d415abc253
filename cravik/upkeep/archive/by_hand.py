"""A back-up that somebody asks for on screen: taken in the background, since it may take minutes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

import structlog
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from cravik.upkeep.archive.shelf import check
from cravik.upkeep.archive.taking import BackupFailed, take_by_hand

logger = structlog.stdlib.get_logger("cravik.backup")
_UNDER_WAY = (TaskResultStatus.READY, TaskResultStatus.RUNNING)


@dataclass(frozen=True)
class Asked:
    """What became of the last one that was asked for."""

    is_under_way: bool
    words: str


def take_wanted(now: datetime) -> str:
    """Take and verify one, and say how that went."""
    try:
        taken = take_by_hand(now)
        known = check(taken, now)
    except BackupFailed as failed:
        logger.error("the back-up by hand failed", why=str(failed))
        return str(failed)
    if known.faults:
        logger.error("the back-up by hand is not sound", file=taken.name, why=known.faults[0])
        return f"{taken.name} is not sound: {known.faults[0]}"
    logger.info("backed up by hand and verified", file=taken.name, missing=len(known.missing))
    return ""


def asked_last(task_path: str) -> Asked | None:
    """The last one that was asked for through the queue; None where it has been forgotten, a day later."""
    last = DBTaskResult.objects.filter(task_path=task_path).order_by("-enqueued_at").first()
    if last is None:
        return None
    outcome = (
        last.return_value if last.status == TaskResultStatus.SUCCESSFUL else "It could not be taken; the log says why."
    )
    return Asked(last.status in _UNDER_WAY, str(outcome or ""))
