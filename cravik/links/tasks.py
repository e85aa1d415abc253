"""Timed work of links."""

from __future__ import annotations

from django.utils import timezone
from django_tasks import task

from cravik.links.life.lifecycle import end_what_is_due, end_what_is_used_up, resume_what_is_due
from cravik.links.waiting.tasks import write_to_waiting

__all__ = ["end_due_links", "write_to_waiting"]  # an earlier version may have queued it by this path


@task()
def end_due_links() -> int:
    """Write down of every link whose day has come, or of which nothing is left, that it has ended, which its page
    says at that instant by itself; and resume those whose pause is over."""
    now = timezone.now()
    return end_what_is_due(now) + end_what_is_used_up(now) + resume_what_is_due(now)
