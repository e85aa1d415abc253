"""What stands at the head of links and orders: what came in today and this month, with a picture."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.db.models import Sum

from cravik.core.pricing.money import Money, sums_of
from cravik.orders.takings import money_by_day
from cravik.payments.models import Agreement, Due
from cravik.people.models import Business
from cravik.setup.periods import USUAL_DAYS, Period

#: The picture, in its own units.
_STEP, _HIGH = 4, 28


@dataclass(frozen=True)
class Bar:
    """A day's money in the currency of the business, as a bar that stands on the picture's foot."""

    x: int
    y: float
    height: float


@dataclass(frozen=True)
class Head:
    """Money net of refunds, one sum a currency, by the seller's days."""

    today: tuple[Money, ...]
    month: tuple[Money, ...]
    month_name: str
    bars: tuple[Bar, ...]
    #: What of what runs is due within as many days from now on; nothing of it is money yet.
    to_come: tuple[Money, ...] = ()

    @property
    def width(self) -> int:
        return len(self.bars) * _STEP


def head_of(business: Business, now: datetime) -> Head | None:
    """None where nothing moved in these days."""
    today = now.astimezone(ZoneInfo(business.time_zone)).date()
    begins = today - timedelta(days=USUAL_DAYS - 1)
    month = today.replace(day=1)
    by_day = money_by_day(business.pk, Period(min(begins, month), today, business.time_zone), None)
    if not by_day:
        return None
    days = [begins + timedelta(days=number) for number in range(USUAL_DAYS)]
    own = [sum(each.minor for each in by_day.get(day, []) if each.currency == business.currency) for day in days]
    most = max(1, *own)
    heights = [round(max(_HIGH * minor / most, 1.5), 1) if minor > 0 else 0 for minor in own]
    return Head(
        tuple(by_day.get(today, [])),
        tuple(sums_of([each for day, money in by_day.items() if day >= month for each in money])),
        f"{month:%B}",
        tuple(Bar(place * _STEP, round(_HIGH - high, 1), high) for place, high in enumerate(heights)),
        _to_come(business, today),
    )


def _to_come(business: Business, today: date) -> tuple[Money, ...]:
    """What the clock is to collect of agreements that run, in the days from today on."""
    if not Agreement.objects.filter(business=business, rehearsal=False).exists():
        return ()
    ahead = Due.objects.filter(
        collect_on__gte=today,
        collect_on__lt=today + timedelta(days=USUAL_DAYS),
        checkout__business=business,
        checkout__rehearsal=False,
        checkout__agreement__state=Agreement.State.RUNNING,
    )
    sums = ahead.order_by("currency").values_list("currency")
    left = sums.annotate(minor=Sum("amount_minor") - Sum("paid_minor")).values_list("currency", "minor")
    return tuple(Money(minor, currency) for currency, minor in left)
