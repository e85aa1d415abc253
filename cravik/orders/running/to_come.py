"""What is to come soon of what is paid over time, which is no money yet."""

from __future__ import annotations

from datetime import date, timedelta

from django.db.models import Sum

from cravik.core.pricing.money import Money, sums_of
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
    if not running.exists():
        return ()
    until = today + timedelta(days=USUAL_DAYS)
    unpaid = Due.objects.filter(state__in=Due.UNPAID, on__gte=today, on__lte=until).order_by("currency")
    # By the index of what the clock collects; what is only asked for is looked for where there can be any.
    taken = unpaid.filter(collect_on__gte=today, collect_on__lte=until, checkout__in=running.values("checkout"))
    asked = unpaid.filter(collect_on__isnull=True, checkout__in=running.filter(plan__kind="deposit").values("checkout"))
    left = Sum("amount_minor") - Sum("paid_minor")
    found = [row for dues in (taken, asked) for row in dues.values_list("currency").annotate(unpaid=left)]
    return tuple(each for each in sums_of(Money(minor, currency) for currency, minor in found) if each)
