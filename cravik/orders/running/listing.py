"""What runs, as its seller's list has it: who is on what, what comes next, what was paid and is to come."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from zoneinfo import ZoneInfo

from django.db.models import Exists, OuterRef, Q, QuerySet

from cravik.core.documents.plans import read_simple_plan
from cravik.core.pricing.money import Money
from cravik.core.text.plan_words import plan_words
from cravik.orders.models import Order
from cravik.orders.running.payments import state_words
from cravik.orders.running_path import running_path
from cravik.payments.models import Agreement, Due
from cravik.people.models import Business
from cravik.ui.lists import Hiding

State = Agreement.State
#: What the list can be narrowed to, and how it is said.
STATES = {
    "running": ("running", "running"),
    "arrears": ("in arrears", "in arrears"),
    "paused": ("paused", "paused"),
    "stopped": ("stopped", "stopped and not over yet"),
    "ended": ("ended", "ended"),
}
#: Names of columns to sort by.
COLUMNS = {"since": "Since", "buyer": "Buyer", "thing": "Thing"}
_SORTED = {
    "since": ("-agreed_at", "-id"),
    "buyer": ("checkout__buyer_name", "id"),
    "thing": ("checkout__order__title", "id"),
}


@dataclass(frozen=True)
class RunningRow:
    """One agreement: its order, its state in a word, what it is in words, and its sums; ``to_come`` is None where it
    has no end."""

    agreement: Agreement
    order: Order
    state: str
    plan: str
    next: Due | None
    owed: Money
    paid: Money
    to_come: Money | None

    @property
    def path(self) -> str:
        return running_path(self.order)

    @property
    def why(self) -> str:
        """Why it is paused or over."""
        return str(Agreement.Why(self.agreement.why).label) if self.agreement.why else ""


def found_agreements(business: Business, state: str, q: str, sort: str, now: datetime) -> QuerySet[Agreement]:
    """The business's agreements that are found and sorted so; rehearsals are none of them."""
    today = now.astimezone(ZoneInfo(business.time_zone)).date()
    found = Agreement.objects.filter(business=business, rehearsal=False).exclude(state=State.OFFERED)
    match state:
        case "arrears":
            found = found.filter(_in_arrears(today), state__in=[State.RUNNING, State.PAUSED])
        case "stopped":
            found = found.filter(state=State.RUNNING, ends_on__isnull=False)
        case "running" | "paused" | "ended":
            found = found.filter(state=state)
    for word in q.split()[:6]:
        of_order = Q(checkout__order__title__icontains=word) | Q(checkout__order__number__startswith=word)
        found = found.filter(
            Q(checkout__buyer_name__icontains=word) | Q(checkout__buyer_email__icontains=word) | of_order
        )
    name = sort.removeprefix("-")
    found = found.order_by(*_SORTED.get(name, _SORTED["since"]))
    return found.reverse() if sort.startswith("-") else found


def _in_arrears(today: date) -> Exists:
    late = Q(state=Due.State.FAILED) | Q(state__in=Due.UNPAID, on__lt=today)
    return Exists(Due.objects.filter(late, checkout=OuterRef("checkout")))


def hidings(state: str, q: str) -> Iterator[Hiding]:
    """What hides a part of the list, in words."""
    if state in STATES:
        yield Hiding("state", f"is {STATES[state][1]}", "Any state")
    if q:
        yield Hiding("q", f"matches “{q}”", "Any words")


def rows_of(agreements: Sequence[Agreement], business: Business, now: datetime) -> list[RunningRow]:
    """The rows of the agreements, in as many queries as for one."""
    today = now.astimezone(ZoneInfo(business.time_zone)).date()
    checkouts = [each.checkout_id for each in agreements]
    orders = {each.checkout_id: each for each in Order.objects.filter(checkout__in=checkouts).select_related("link")}
    dues: defaultdict[int, list[Due]] = defaultdict(list)
    for due in Due.objects.filter(checkout__in=checkouts).order_by("on", "position"):
        dues[due.checkout_id].append(due)
    rows = []
    for agreement in agreements:
        if order := orders.get(agreement.checkout_id):
            rows.append(_row(agreement, order, dues[agreement.checkout_id], today))
    return rows


def _row(agreement: Agreement, order: Order, dues: list[Due], today: date) -> RunningRow:
    currency = agreement.currency
    unpaid = [due for due in dues if due.state in Due.UNPAID]
    late = [due for due in unpaid if due.on < today or due.state == Due.State.FAILED]
    has_end = agreement.until is not None or agreement.plan is None or agreement.ends_on is not None
    return RunningRow(
        agreement,
        order,
        state_words(agreement, is_late=bool(late)),
        plan_words(read_simple_plan(agreement.plan, currency)) if agreement.plan else "card kept",
        next((due for due in unpaid if due.on >= today), None) if agreement.state != State.PAUSED else None,
        Money(sum(due.left.minor for due in late), currency),
        Money(sum(due.paid_minor for due in dues), currency),
        Money(sum(due.left.minor for due in unpaid), currency) if has_end else None,
    )
