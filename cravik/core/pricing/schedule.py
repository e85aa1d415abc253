"""When an offer is paid: plans, and the dates that they fall on.

Dates step from the start: the k-th is start + k × every, and a day past its month's end falls on
the month's last day, without moving the ones after it.

>>> [day.isoformat() for day in Every(1, "month").dates(date(2026, 1, 31), 3)]
['2026-02-28', '2026-03-31', '2026-04-30']
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import ClassVar, Literal

from dateutil.relativedelta import relativedelta

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import WHOLE, Percent
from cravik.core.pricing.price import FixedPrice

#: How many payments are listed of a plan that has no end.
LISTED_WITHOUT_END = 12

Unit = Literal["day", "week", "month", "year"]


@dataclass(frozen=True, slots=True)
class Every:
    """A step in time: ``count`` days, weeks, calendar months or years."""

    count: int
    unit: Unit

    def after(self, start: date, steps: int) -> date:
        """``start`` and that many steps on."""
        count = self.count * steps
        match self.unit:
            case "day":
                return start + timedelta(days=count)
            case "week":
                return start + timedelta(weeks=count)
            case "month":
                return start + relativedelta(months=count)
            case "year":
                return start + relativedelta(years=count)

    def dates(self, start: date, count: int) -> Iterator[date]:
        """The first ``count`` dates after ``start``."""
        return (self.after(start, step) for step in range(1, count + 1))


@dataclass(frozen=True, slots=True)
class OncePlan:
    """All of it now."""

    kind: ClassVar = "once"


ONCE = OncePlan()


@dataclass(frozen=True, slots=True)
class FirstPayments:
    """For so many of the first full ``payments``, ``prices`` hold instead of the lines' own, by the lines' keys."""

    payments: int
    prices: Mapping[str, FixedPrice]


@dataclass(frozen=True, slots=True)
class RepeatPlan:
    """The same payment again and again: ``payments`` in all (None: until cancelled), the first
    after a trial of so many days, or calendar months. The ``first`` ones may have prices of their own."""

    kind: ClassVar = "repeat"
    every: Every
    payments: int | None = None
    trial_days: int = 0
    trial_months: int = 0
    first: FirstPayments | None = None

    @property
    def trial(self) -> Every | None:
        """How long nothing but what is charged once is paid; None where there is no trial."""
        if self.trial_months:
            return Every(self.trial_months, "month")
        return Every(self.trial_days, "day") if self.trial_days else None

    def day_of(self, start: date, position: int) -> date:
        """When the payment at that position is due of what was bought on ``start``; 0 is what is paid then.

        >>> RepeatPlan(Every(1, "month"), trial_days=14).day_of(date(2026, 1, 17), 2).isoformat()
        '2026-02-28'
        """
        if self.trial is None or position == 0:
            return self.every.after(start, position)
        return self.every.after(self.trial.after(start, 1), position - 1)

    def is_at_first(self, position: int) -> bool:
        """Whether the payment at that position is one of the first, which have prices of their own."""
        number = position if self.trial else position + 1
        return self.first is not None and number <= self.first.payments


@dataclass(frozen=True, slots=True)
class InstalmentsPlan:
    """The total in so many equal parts, the first now."""

    kind: ClassVar = "instalments"
    every: Every
    payments: int


@dataclass(frozen=True, slots=True)
class DepositPlan:
    """A part now, by ``percent`` or ``amount`` (one of the two), and the rest on one later day: ``rest_after_days``, or
    ``rest_on`` (one of the two)."""

    kind: ClassVar = "deposit"
    rest_after_days: int | None = None
    percent: Percent | None = None
    amount: Money | None = None
    buyer_may_pay_more: bool = False
    rest_on: date | None = None

    def rest_day(self, start: date) -> date:
        """When the rest is due of what is bought on ``start``."""
        return self.rest_on or start + timedelta(days=self.rest_after_days or 0)

    def deposit_on(self, total: Money, start: date) -> Money:
        """The deposit: a percentage rounded, an amount capped at the total; all of it where the rest's own day has
        come."""
        if self.rest_on is not None and self.rest_on <= start:
            return total
        if self.percent:
            return Money(self.percent.of(total.minor), total.currency)
        return min(self.amount or Money(0, total.currency), total)


SimplePlan = OncePlan | RepeatPlan | InstalmentsPlan | DepositPlan


@dataclass(frozen=True, slots=True)
class PlanChoice:
    """One of the plans that a buyer picks from; ``key`` is a slug.

    ``prices`` hold instead of the lines' own (by the lines' keys) where this plan is picked.
    """

    key: str
    plan: SimplePlan
    prices: Mapping[str, FixedPrice] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class ChoicePlan:
    """The buyer picks when to pay."""

    kind: ClassVar = "choice"
    of: tuple[PlanChoice, ...]

    def choice(self, key: str | None) -> PlanChoice | None:
        return next((choice for choice in self.of if choice.key == key), None)

    def plan(self, key: str) -> SimplePlan | None:
        choice = self.choice(key)
        return choice.plan if choice else None


Plan = SimplePlan | ChoicePlan


def simple_plans(plan: Plan) -> tuple[SimplePlan, ...]:
    """The plans that a buyer could end up with."""
    return tuple(choice.plan for choice in plan.of) if isinstance(plan, ChoicePlan) else (plan,)


def has_later_payments(plan: Plan) -> bool:
    """Whether some buyer of an offer with this plan owes something on a later day."""
    return any(_asks_later(each) for each in simple_plans(plan))


def _asks_later(plan: SimplePlan) -> bool:
    match plan:
        case OncePlan():
            return False
        case InstalmentsPlan(payments=payments):
            return payments > 1
        case DepositPlan(percent=percent):
            return percent is None or percent.ten_thousandths < WHOLE
        case RepeatPlan(payments=payments, trial=trial):
            return payments != 1 or trial is not None
