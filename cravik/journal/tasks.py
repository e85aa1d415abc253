"""Timed work of the journal."""

from __future__ import annotations

from django.utils import timezone
from django_tasks import task

from cravik.journal.services import forget_networks


@task()
def forget_networks_of_the_past() -> None:
    """Drop what is known of network addresses but for this minute."""
    forget_networks(timezone.now())
