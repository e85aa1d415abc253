"""Timed work of links."""

from __future__ import annotations

from django.utils import timezone
from django_tasks import task

from cravik.links.lifecycle import end_what_is_due
from cravik.links.waiting import write_due
from cravik.mailroom.services import deliver_waiting


@task()
def end_due_links() -> int:
    """Write down of every link whose day has come that it has ended. Its page says so at that instant by itself."""
    return end_what_is_due(timezone.now())


@task()
def write_to_waiting() -> int:
    """Write the letters that are due to those who wait for a link, and deliver them."""
    now = timezone.now()
    written = write_due(now)
    deliver_waiting(now)
    return written
