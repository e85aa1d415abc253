"""What is expected by month of what runs, and how much of what fell due in the last year came."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from dateutil.relativedelta import relativedelta
from django.db.models import BooleanField, Case, CharField, Count, ExpressionWrapper, Max, Q, QuerySet, Sum, Value, When
from django.db.models.functions import Cast, Substr

from cravik.core.documents.plans import read_repeat_plan
from cravik.core.english import counted
from cravik.core.graphics.columns import Column, column_picture
from cravik.core.graphics.picture import Picture
from cravik.core.pricing.money import Money
from cravik.core.statistics.expected import ExpectedMonth, by_month
from cravik.core.statistics.rates import Rate, conversion
from cravik.core.text.money_text import format_money, format_money_clearly
from cravik.payments.models import Agreement, Due
from cravik.people.models import Business

State = Agreement.State
MONTHS = 6
_YEAR = timedelta(days=365)


@dataclass(frozen=True)
class Expected:
    """What is planned in each of the next months in the business's currency, what of the last year's came, and what is
    left out: in arrears or paused, and in other currencies."""

    months: tuple[ExpectedMonth, ...]
    came: Rate
    left_out: Money
    others: int

    @property
    def is_any(self) -> bool:
        return any(each.total for each in self.months)

    @property
    def words(self) -> str:
        """How sure it is, in a sentence or two."""
        sure = "If everybody goes on and every card works."
        if self.came.tells:
            sure += (
                f" Of {self.came.of:,} payments that fell due in the last year, {self.came.happened:,} came"
                f" ({100 * self.came.share:.0f} %; likely {100 * self.came.low:.0f} to {100 * self.came.high:.0f} % in"
                " the long run)."
            )
        elif self.came.of:
            sure += (
                f" Only {counted(self.came.of, 'payment', 'payments')} fell due so far, too few to tell how many come."
            )
        if self.left_out:
            sure += f" {format_money_clearly(self.left_out)} in arrears or paused is not in it."
        if self.others:
            plans, are = counted(self.others, "plan", "plans"), "is" if self.others == 1 else "are"
            sure += f" {plans} in other currencies {are} not in it."
        return sure

    @property
    def picture(self) -> Picture:
        columns = [
            Column(
                f"{each.month:%b %Y}",
                format_money(each.total) if each.total else "–",
                each.taken.minor,
                each.asked.minor,
                f"{each.month:%B %Y}: {format_money_clearly(each.total)}",
            )
            for each in self.months
        ]
        said = "; ".join(column.says for column in columns)
        key = (("teal", "taken by itself"), ("pale", "asked for, paid by the buyer"))
        return column_picture(columns, "Expected by month", said, key)


def expected_of(business: Business, now: datetime) -> Expected:
    """Of the business's agreements that run, without rehearsals."""
    today, currency = now.astimezone(ZoneInfo(business.time_zone)).date(), business.currency
    horizon = today.replace(day=1) + relativedelta(months=MONTHS)
    ahead, left_out = _listed(business, today, horizon)
    running = Agreement.objects.filter(business=business, rehearsal=False, state=State.RUNNING)
    beyond = [(day, minor, True) for day, minor in _beyond(running.filter(currency=currency), horizon)]
    return Expected(
        by_month(ahead + beyond, currency, today, MONTHS),
        _came(business, today),
        Money(left_out, currency),
        running.exclude(currency=currency).count(),
    )


def _listed(business: Business, today: date, horizon: date) -> tuple[list[tuple[date, int, bool]], int]:
    """What is listed by month, with whether it is taken by itself; and what is late or paused. Of many thousand dues
    this reads each once."""
    alive = Agreement.objects.filter(business=business, rehearsal=False, currency=business.currency)
    alive = alive.filter(state__in=[State.RUNNING, State.PAUSED])
    dues = Due.objects.filter(checkout__agreement__in=alive, state__in=Due.UNPAID, on__lt=horizon).order_by()
    is_left_out = Q(checkout__agreement__state=State.PAUSED) | Q(on__lt=today)
    month = Case(When(is_left_out, then=Value("")), default=Substr(Cast("on", CharField()), 1, 7))
    sums = dues.values_list(month, ExpressionWrapper(Q(collect_on__isnull=False), BooleanField()))
    found = sums.annotate(minor=Sum("amount_minor") - Sum("paid_minor"))
    ahead = [(date.fromisoformat(f"{name}-01"), minor, is_taken) for name, is_taken, minor in found if name]
    return ahead, sum(minor for name, _, minor in found if not name)


def _beyond(running: QuerySet[Agreement], horizon: date) -> list[tuple[date, int]]:
    """Payments of plans without an end that are not listed yet, since only so many are."""
    found: list[tuple[date, int]] = []
    endless = running.filter(until__isnull=True, plan__kind="repeat", ends_on__isnull=True)
    often = endless.filter(plan__every__unit__in=["day", "week"])
    listed = Due.objects.filter(checkout__agreement__in=often, reason="").order_by().values_list("checkout")
    last = dict(listed.annotate(Max("position")))
    for agreement in often.iterator():
        plan = read_repeat_plan(agreement.plan, agreement.currency)
        position = last.get(agreement.checkout_id, 0) + 1
        while (day := plan.day_of(agreement.begins_on, position)) < horizon:
            found.append((day, agreement.each_minor))
            position += 1
    return found


def _came(business: Business, today: date) -> Rate:
    fell_due = Due.objects.filter(
        checkout__agreement__business=business,
        checkout__agreement__rehearsal=False,
        position__gt=0,
        amount_minor__gt=0,
        on__lt=today,
        on__gte=today - _YEAR,
    ).exclude(state__in=[Due.State.SKIPPED, Due.State.WAIVED, Due.State.CANCELLED])
    counts = fell_due.aggregate(due=Count("id"), paid=Count("id", filter=Q(state=Due.State.PAID)))
    return conversion(counts["paid"], counts["due"])
