"""What time it is for an order: a rehearsal's clock may have been moved on."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.utils import timezone

from cravik.orders.models import Order
from cravik.payments.models import Agreement
from cravik.ui.timings import Clock


def clock_of(agreement: Agreement) -> Clock:
    """A rehearsal's own clock; everybody's for what is no rehearsal."""
    ahead = timedelta(days=agreement.ahead_days if agreement.rehearsal else 0)
    return lambda: timezone.now() + ahead


def day_of(order: Order, now: datetime) -> date:
    """The seller's day."""
    return now.astimezone(ZoneInfo(order.business.time_zone)).date()
