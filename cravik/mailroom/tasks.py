"""Background work of the mailroom."""

from __future__ import annotations

from django.utils import timezone
from django_tasks import task

from cravik.mailroom.services import deliver_waiting


@task()
def deliver_waiting_letters() -> int:
    """Deliver what waits. Safe to run at any time, twice, or by several workers at once."""
    return deliver_waiting(timezone.now())
