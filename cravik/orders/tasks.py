"""Timed work of orders."""

from __future__ import annotations

from django.utils import timezone
from django_tasks import task

from cravik.orders.paying.reconcile import reconcile
from cravik.payments.gateways import present_gateway
from cravik.payments.services import CUT_OFF_AFTER


@task()
def reconcile_cut_off_payments() -> int:
    """Bring payments that were cut off a while ago to their end, and return how many there were."""
    now = timezone.now()
    return reconcile(present_gateway(), now - CUT_OFF_AFTER, now)


@task()
def reconcile_all_payments() -> int:
    """The same for every payment without an answer: before the first request nobody waits for one."""
    now = timezone.now()
    return reconcile(present_gateway(), now, now)
