"""The queue of background work."""

from __future__ import annotations

from typing import Any

from django_tasks.base import Task, TaskResultStatus
from django_tasks_db.models import DBTaskResult

from cravik.upkeep.prepared import Param, PreparedSelect


def enqueue_once(task: Task[Any, Any]) -> None:
    """Put ``task``, which takes no arguments, in the queue unless it waits there already.

    For work that finds out itself what there is to do: one run serves all that asked for it.
    """
    if not _WAITING.first(task=task.module_path):
        task.enqueue()


_WAITING = PreparedSelect(
    lambda: (
        DBTaskResult.objects.filter(status=TaskResultStatus.READY, task_path=Param("task"))
        .order_by()
        .values_list("id")[:1]
    )
)
