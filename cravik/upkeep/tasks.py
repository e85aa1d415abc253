"""Timed work of the installation itself."""

from __future__ import annotations

from datetime import timedelta

from django.core.management import call_command
from django.utils import timezone
from django_tasks import task

from cravik.upkeep.backup import back_up_database, newest_backup_at
from cravik.upkeep.tries import forget_tries

_DAILY = timedelta(hours=20)


@task()
def back_up() -> str:
    """Take the day's back-up and return its file name, or say that there is one already."""
    now = timezone.now()
    newest = newest_backup_at()
    if newest and now - newest < _DAILY:
        return "there is one of today"
    return back_up_database(now).name


@task()
def forget_tries_of_the_past() -> None:
    """Drop the counts of tries whose time is over."""
    forget_tries(timezone.now())


@task()
def forget_finished_tasks() -> None:
    """Drop the records of tasks that ended more than a day ago."""
    call_command("prune_db_task_results", min_age_days=1, verbosity=0)
