"""What stands at the head of links and orders: what came in today and this month, with a picture."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from cravik.core.pricing.money import Money, sums_of
from cravik.orders.running.to_come import to_come
from cravik.orders.takings import money_by_day
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
    #: See ``running/to_come``.
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
        to_come(business, today),
    )
