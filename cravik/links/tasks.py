"""Timed work of links."""

from __future__ import annotations

from django.utils import timezone
from django_tasks import task

from cravik.links.lifecycle import end_what_is_due


@task()
def end_due_links() -> int:
    """Write down of every link whose day has come that it has ended. Its page says so at that instant by itself."""
    return end_what_is_due(timezone.now())
