"""Visits and money over time, by hour, day, week or month of the seller's zone, beside what the period before had."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from functools import cached_property
from zoneinfo import ZoneInfo

from cravik.core.english import counted, listed
from cravik.core.graphics.picture import Picture
from cravik.core.graphics.timeline import Axis, Column, timeline
from cravik.core.pricing.currency import minor_digits
from cravik.core.pricing.money import Money, sums_of
from cravik.core.statistics.comparisons import Verdict, verdict
from cravik.core.text.money_text import format_money
from cravik.core.text.results_words import percent_words
from cravik.journal.facets import QUARTER, Visits
from cravik.journal.models import Facet
from cravik.journal.queries import visits_by_day, visits_by_instant
from cravik.orders.takings import money_by_day, money_by_instant
from cravik.results.comparing.base import Scope, money_cell, whole_of
from cravik.results.events import Event, events_in
from cravik.setup.periods import Period

#: The grains by their names, and of how many days at most each is offered.
GRAINS = {"hour": 7, "day": 190, "week": 1100, "month": 3660}
_HOUR = timedelta(hours=1)
#: The picture on a desk and on a phone.
WIDE, NARROW = 960, 360


@dataclass
class Stretch:
    """One column: where it begins, what it is called, its visits, what moved, one sum a currency, and its events."""

    begins: date | datetime
    label: str
    name: str
    visits: Visits = field(default_factory=Visits)
    money: tuple[Money, ...] = ()
    events: list[int] = field(default_factory=list)

    def take(self, money: Sequence[Money]) -> None:
        self.money = sums_of([*self.money, *money])

    def minor_in(self, currency: str) -> int:
        return next((each.minor for each in self.money if each.currency == currency), 0)


@dataclass(frozen=True)
class Totals:
    """All of a period: its visits, and its money."""

    visits: Visits
    money: tuple[Money, ...]


@dataclass(frozen=True)
class OverTime:
    """The stretches of a period in their order, its events, and how it stands against as many days before."""

    title: str
    grain: str
    currency: str
    stretches: tuple[Stretch, ...]
    events: tuple[Event, ...]
    now: Totals
    before: Totals
    verdict: Verdict

    @cached_property
    def columns(self) -> list[Column]:
        return [
            Column(
                each.label,
                each.visits.ladder.opened,
                each.visits.ladder.paid,
                each.minor_in(self.currency),
                _stretch_words(each, self.events),
                tuple(each.events),
            )
            for each in self.stretches
        ]

    def picture(self, width: float = WIDE) -> Picture:
        axis = Axis(self.currency, _sign(self.currency), 10 ** minor_digits(self.currency))
        return timeline(self.columns, width, axis, self.title, self.summary)

    @property
    def summary(self) -> str:
        """What the picture shows, in a sentence."""
        if not self.now.visits.ladder.opened:
            return "Nobody came in these days."
        most = max(self.stretches, key=lambda each: each.visits.ladder.opened)
        ladder = self.now.visits.ladder
        came = f"{counted(ladder.opened, 'visit', 'visits')}, of which {ladder.paid:,} paid"
        return f"{came}; the busiest {self.grain} had {most.visits.ladder.opened:,}: {most.name}."

    @property
    def against_before(self) -> str:
        """How the rate stands against that of as many days before, in a sentence; nothing where none can be said."""
        now, before = self.now.visits.rate, self.before.visits.rate
        if not before.of:
            return ""
        rates = f"{percent_words(now.share)} of visits paid, {percent_words(before.share)} before"
        match self.verdict.says:
            case "too few":
                return "Too few visits to compare how many paid."
            case "better":
                return f"More of them paid: {rates}."
            case "worse":
                return f"Fewer of them paid: {rates}."
        return f"Whether more of them paid can't be told: {rates}."


def usual_grain(period: Period) -> str:
    """The one by which so many days are best looked at."""
    if period.days <= 2:
        return "hour"
    if period.days <= 92:
        return "day"
    return "week" if period.days <= 400 else "month"


def grains_for(period: Period) -> list[str]:
    """Those that so many days are offered by."""
    return [grain for grain, most in GRAINS.items() if period.days <= most]


def over_time(scope: Scope, grain: str) -> OverTime:
    """The figures of the scope by that grain."""
    stretches = _by_hour(scope) if grain == "hour" else _by_day(scope, grain)
    events = events_in(scope)
    for number, event in enumerate(events, 1):
        _stretch_of(stretches, event.at, scope.period).events.append(number)
    now = Totals(
        sum((each.visits for each in stretches), Visits()), sums_of(sum_ for each in stretches for sum_ in each.money)
    )
    before = _totals(Scope(scope.business, scope.period.before, scope.link))
    judged = verdict(now.visits.rate, before.visits.rate)
    return OverTime(
        f"{scope.words}: visits and money by {grain}",
        grain,
        _currency(scope, now),
        tuple(stretches),
        tuple(events),
        now,
        before,
        judged,
    )


def _by_hour(scope: Scope) -> list[Stretch]:
    period, zone = scope.period, ZoneInfo(scope.period.time_zone)
    link_id = scope.link.pk if scope.link else None
    since, until = int(period.since.timestamp()), int(period.until.timestamp())
    stretches = [
        Stretch(at, f"{at:%H:%M}", f"{at.day} {at:%B, %H:%M}")
        for at in (datetime.fromtimestamp(each, zone) for each in range(since, until, 3600))
    ]
    found = visits_by_instant(scope.business.pk, period.since, period.until, link_id)
    for quarter, visits in found.items():
        stretch = stretches[(quarter * QUARTER - since) // 3600]
        stretch.visits += visits
    for quarter, money in money_by_instant(scope.business.pk, period.since, period.until, link_id).items():
        stretches[(quarter * QUARTER - since) // 3600].take(money)
    return stretches


def _by_day(scope: Scope, grain: str) -> list[Stretch]:
    period = scope.period
    link_id = scope.link.pk if scope.link else None
    stretches: dict[date, Stretch] = {}
    day = period.first
    while day <= period.last:
        begins = max(_begin_of(day, grain), period.first)
        if begins not in stretches:
            stretches[begins] = Stretch(begins, *_names(begins, grain))
        day += timedelta(days=1)
    for day, visits in visits_by_day(scope.business.pk, period, link_id).items():
        stretches[max(_begin_of(day, grain), period.first)].visits += visits
    for day, money in money_by_day(scope.business.pk, period, link_id).items():
        stretches[max(_begin_of(day, grain), period.first)].take(money)
    return list(stretches.values())


def _begin_of(day: date, grain: str) -> date:
    """The day that begins its day, week (a Monday, as in ISO 8601) or month."""
    if grain == "week":
        return day - timedelta(days=day.weekday())
    return day.replace(day=1) if grain == "month" else day


def _names(day: date, grain: str) -> tuple[str, str]:
    """What stands below its column, and what it is called in a sentence."""
    if grain == "month":
        return f"{day:%b} {day.year}", f"{day:%B} {day.year}"
    words = f"{day.day} {day:%B}"
    return f"{day.day} {day:%b}", f"the week of {words}" if grain == "week" else f"{day:%A}, {words}"


def _stretch_of(stretches: list[Stretch], at: datetime, period: Period) -> Stretch:
    local = at.astimezone(ZoneInfo(period.time_zone))

    def has_begun(stretch: Stretch) -> bool:
        begins = stretch.begins
        return begins.astimezone(UTC) <= at if isinstance(begins, datetime) else begins <= local.date()

    return [each for each in stretches if has_begun(each)][-1]


def _totals(scope: Scope) -> Totals:
    return Totals(whole_of(scope), sums_of(each for money in scope.money(Facet.DEVICE).values() for each in money))


def _currency(scope: Scope, now: Totals) -> str:
    """That of the business, unless all that came in is in another."""
    taken = [each.currency for each in now.money]
    own = scope.business.currency
    return own if own in taken or not taken else taken[0]


def _stretch_words(each: Stretch, events: Sequence[Event]) -> str:
    ladder = each.visits.ladder
    money = listed([format_money(sum_) for sum_ in each.money], "and") or "no money"
    happened = [events[number - 1].words for number in each.events]
    came = f"{counted(ladder.opened, 'visit', 'visits')}, {ladder.paid:,} paid, {money}."
    return " ".join([f"{each.name[0].upper()}{each.name[1:]}: {came}", *(f"{words}." for words in happened)])


def _sign(currency: str) -> str:
    return format_money(Money(0, currency)).split("0")[0]


def rows_of(found: OverTime) -> Iterator[list[object]]:
    """The table behind the picture: a stretch a row."""
    for each in found.stretches:
        ladder = each.visits.ladder
        begins = each.begins.isoformat()
        happened = "; ".join(found.events[number - 1].words for number in each.events)
        yield [begins, ladder.opened, ladder.started, ladder.tried, ladder.paid, money_cell(each.money), happened]


HEAD = ["begins", "opened", "started", "tried", "paid", "money", "events"]
