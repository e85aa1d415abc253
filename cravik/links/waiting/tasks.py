"""Timed work for those who wait for a link."""

from __future__ import annotations

from django.utils import timezone
from django_tasks import task

from cravik.links.waiting.waiters import write_due
from cravik.mailroom.services import deliver_waiting


@task()
def write_to_waiting() -> int:
    """Write the letters that are due to those who wait for a link, and deliver them."""
    now = timezone.now()
    written = write_due(now)
    deliver_waiting(now)
    return written
