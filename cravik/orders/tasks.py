"""Timed work of orders."""

from __future__ import annotations

from django.utils import timezone
from django_tasks import task

from cravik.orders.paying.reconcile import reconcile
from cravik.orders.summing import sum_days
from cravik.orders.unpaid import forget
from cravik.payments.services import CUT_OFF_AFTER
from cravik.payments.ways import present_ways
from cravik.people.models import Business

#: Days of one business that are summed before it is another's turn, or other work's.
_DAYS_AT_ONCE = 60


@task()
def reconcile_cut_off_payments() -> int:
    """Bring payments that were cut off a while ago to their end, and return how many there were."""
    return reconcile(present_ways(), timezone.now() - CUT_OFF_AFTER, timezone.now)


@task()
def reconcile_all_payments() -> int:
    """The same for every payment without an answer: before the first request nobody waits for one."""
    return reconcile(present_ways(), timezone.now(), timezone.now)


@task()
def sum_days_that_are_over() -> int:
    """Sum visits and money of every business's days that are over, and return how many days there were."""
    now = timezone.now()
    return sum(sum_days(business, now, _DAYS_AT_ONCE) for business in Business.objects.order_by("id"))


@task()
def forget_who_did_not_pay() -> int:
    """Drop names and addresses of those who pressed Pay a month ago and did not pay, and return of how many."""
    return forget(timezone.now())
