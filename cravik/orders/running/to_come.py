"""What is to come soon of what is paid over time, which is no money yet."""

from __future__ import annotations

from datetime import date, timedelta

from django.db.models import Sum

from cravik.core.pricing.money import Money
from cravik.links.models import Link
from cravik.payments.models import Agreement, Due
from cravik.people.models import Business
from cravik.setup.periods import USUAL_DAYS


def to_come(business: Business, today: date, link: Link | None = None) -> tuple[Money, ...]:
    """What is left of payments that fall due today or within ``USUAL_DAYS``, of the business's agreements that run, or
    of those of one link: one sum a currency, without rehearsals. What is late already is in none of them."""
    running = Agreement.objects.filter(business=business, rehearsal=False, state=Agreement.State.RUNNING)
    if link is not None:
        running = running.filter(checkout__order__link=link)
    until = today + timedelta(days=USUAL_DAYS)
    ahead = Due.objects.filter(checkout__in=running.values("checkout"), state__in=Due.UNPAID)
    sums = ahead.filter(on__gte=today, on__lte=until).order_by("currency").values_list("currency")
    left = sums.annotate(unpaid=Sum("amount_minor") - Sum("paid_minor"))
    return tuple(Money(minor, currency) for currency, minor in left if minor)
