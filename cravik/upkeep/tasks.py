"""Timed work of the installation itself."""

from __future__ import annotations

from django.core.management import call_command
from django.db import connection, transaction
from django.utils import timezone
from django_tasks import task

from cravik.upkeep.archive.by_hand import take_wanted
from cravik.upkeep.archive.daily import check_unknown, take_daily_if_due
from cravik.upkeep.pulse import beat_now
from cravik.upkeep.tries import forget_tries

#: Rows of each index.
_LOOKED_AT = 1000


@task()
def back_up() -> str:
    """Take and verify the day's back-up, if it is time, and say what was done."""
    return take_daily_if_due(timezone.now())


@task()
def back_up_by_hand() -> str:
    """Take and verify the back-up that somebody asked for, and say what was done."""
    return take_wanted(timezone.now())


@task()
def verify_unknown() -> str:
    """Verify the back-ups that nobody has yet."""
    return check_unknown(timezone.now())


@task()
def beat() -> None:
    """Show that the queue moves: the clock put this in, and the worker came to it."""
    beat_now()


@task()
def forget_tries_of_the_past() -> None:
    """Drop the counts of tries whose time is over."""
    forget_tries(timezone.now())


@task()
def look_at_sizes() -> None:
    """Have the database know how much there is of what, so that it goes by the right indexes as tables grow.

    A sample of each index is enough (https://sqlite.org/lang_analyze.html), and holds up nobody.
    """
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(f"PRAGMA analysis_limit = {_LOOKED_AT}")
        cursor.execute("ANALYZE")


@task()
def forget_finished_tasks() -> None:
    """Drop the records of tasks that ended more than a day ago."""
    call_command("prune_db_task_results", min_age_days=1, verbosity=0)
