"""What a kind of comparison is, and what it is made of."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

from cravik.core.english import day_words
from cravik.core.pricing.money import Money, sums_of
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import Rate
from cravik.core.text.durations import pace_words
from cravik.core.text.results_words import VISITS, Noun, percent_words
from cravik.journal.facets import Visits
from cravik.journal.models import Facet
from cravik.journal.queries import visits_by, visits_of_links
from cravik.links.models import Link
from cravik.orders.takings import money_by, money_of_links
from cravik.people.models import Business
from cravik.setup.periods import Period


@dataclass(frozen=True)
class Scope:
    """Whose figures, and of which days: one link's, or all of a business."""

    business: Business
    period: Period
    link: Link | None = None

    @property
    def words(self) -> str:
        """Whose figures of which days they are, as a picture that is taken away says it."""
        days = day_words(self.period.first)
        if self.period.days > 1:
            days = f"{days} – {day_words(self.period.last)}"
        return f"{self.link.name if self.link else self.business.name}, {days}"

    def visits(self, facet: Facet) -> dict[str, Visits]:
        """By the facet's values."""
        if self.link is None:
            return visits_by(facet, self.business.pk, self.period)
        found = visits_of_links(facet, self.business.pk, self.period, [self.link.pk])
        return {value: visits for (_, value), visits in found.items()}

    def money(self, facet: Facet) -> dict[str, list[Money]]:
        """By the facet's values."""
        if self.link is None:
            return money_by(facet, self.business.pk, self.period)
        found = money_of_links(facet, self.business.pk, self.period, [self.link.pk])
        return {value: money for (_, value), money in found.items()}


def whole_of(scope: Scope) -> Visits:
    """All visits of the scope together."""
    return sum(scope.visits(Facet.DEVICE).values(), Visits())


@dataclass(frozen=True)
class Named:
    """What one of those that are compared is called, and where it is looked at, if anywhere. ``is_rest`` is True for
    what has no value of the facet: it is shown, and never said to be the best."""

    name: str
    address: str = ""
    is_rest: bool = False


@dataclass(frozen=True)
class Counted:
    """One of those that are compared, with how far its visits got and what they brought."""

    name: str
    address: str
    visits: Visits = field(default_factory=Visits)
    money: tuple[Money, ...] = ()
    is_rest: bool = False

    @property
    def ladder(self) -> Ladder:
        return self.visits.ladder

    @property
    def pace_words(self) -> str:
        """How long they took to pay, as one says it; nothing where nobody paid."""
        return pace_words(self.visits.pace)

    @property
    def rate(self) -> Rate:
        return self.visits.rate

    @property
    def per_visit(self) -> tuple[Money, ...]:
        """Each sum shared out over the visits, rounded half up to the minor unit; none without visits."""
        of = self.ladder.opened
        return tuple(Money((2 * each.minor + of) // (2 * of), each.currency) for each in self.money) if of else ()


class ComparedKind(ABC):
    """A way to tell visits and money apart; ``key`` stands in addresses."""

    key: str
    #: One of them and several, and how the choice of it is called.
    one: str
    label: str
    #: What the rate is a share of.
    noun: Noun = VISITS
    #: What has to be known to read it rightly; nothing where it goes without saying.
    remark: str = ""

    @abstractmethod
    def counted(self, scope: Scope) -> list[Counted]:
        """All of them that have any figures."""


class FacetKind(ComparedKind):
    """A kind that the sums know as a facet."""

    facet: Facet

    def counted(self, scope: Scope) -> list[Counted]:
        visits, money = scope.visits(self.facet), scope.money(self.facet)
        return counted_rows(self.named(scope, {*visits, *money}), visits, money)

    @abstractmethod
    def named(self, scope: Scope, values: Collection[str]) -> dict[str, Named]:
        """Each of the values with its name; what has none is left out."""


def counted_rows(
    named: Mapping[str, Named], visits: Mapping[str, Visits], money: Mapping[str, Sequence[Money]]
) -> list[Counted]:
    """Each of those that are named with its figures."""
    return [
        Counted(each.name, each.address, visits.get(value, Visits()), tuple(money.get(value, ())), each.is_rest)
        for value, each in named.items()
    ]


def ids(values: Collection[str]) -> list[int]:
    """Those of the values that are ids."""
    return [int(value) for value in values if value]


def merged(found: Sequence[Counted]) -> list[Counted]:
    """Those of one name as one, in the order in which each first came."""
    by_name: dict[str, list[Counted]] = {}
    for each in found:
        by_name.setdefault(each.name, []).append(each)
    return [_together(name, of_name) for name, of_name in by_name.items()]


def _together(name: str, found: Sequence[Counted]) -> Counted:
    sums = sums_of(taken for each in found for taken in each.money)
    visits = sum((each.visits for each in found), Visits())
    return Counted(name, found[0].address, visits, sums, found[0].is_rest)


def money_cell(money: Sequence[Money]) -> str:
    """Sums as a cell of a table has them."""
    return "; ".join(f"{each.major} {each.currency}" for each in money)


def share_cells(rate: Rate) -> list[str | None]:
    """The rate and its bounds with four decimals, or None where there are too few visits to tell."""
    return [f"{share:.4f}" if rate.tells else None for share in (rate.share, rate.low, rate.high)]


def rate_words(rate: Rate, none: str) -> str:
    """The rate beside its dot in a picture; ``none`` where there is nothing that it could be of."""
    if not rate.tells:
        return "too few to tell" if rate.of else none
    return f"{percent_words(rate.share)} of {rate.of:,}"
