"""The queue of background work."""

from __future__ import annotations

from typing import Any

from django_tasks.base import Task
from django_tasks_db.models import DBTaskResult


def enqueue_once(task: Task[Any, Any]) -> None:
    """Put ``task``, which takes no arguments, in the queue unless it waits there already.

    For work that finds out itself what there is to do: one run serves all that asked for it.
    """
    if not DBTaskResult.objects.ready().filter(task_path=task.module_path).exists():
        task.enqueue()
