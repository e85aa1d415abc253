"""What is paid over time of one order, as its buyer's page shows it."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from cravik.core.pricing.money import Money, total_of
from cravik.orders.models import IssuedDocument, Order
from cravik.orders.own_page import payments_path
from cravik.payments.models import Agreement, Allocation, Attempt, Due, Proposal
from cravik.payments.ways.card import bank_address

#: So many payments to come are listed of what has no end.
_LISTED_AHEAD = 3


@dataclass(frozen=True)
class Choice:
    """What can be paid now: ``key`` names it in the form, ``positions`` are those of its dues."""

    key: str
    words: str
    positions: tuple[int, ...]
    amount: Money


@dataclass(frozen=True)
class Payments:
    """An order with its agreement, its dues by what became of them, and what its buyer can do."""

    order: Order
    agreement: Agreement
    dues: Sequence[Due]
    today: date
    documents: Sequence[IssuedDocument]
    #: Being paid just now, and not decided; with where the bank asks, if it does.
    under_way: Attempt | None
    #: What the seller proposes and the buyer has not answered.
    proposal: Proposal | None = None

    @property
    def path(self) -> str:
        return payments_path(self.order.checkout.reference)

    @property
    def mark(self) -> str:
        """What stands behind the question mark in addresses of this buyer's."""
        return self.path.partition("?")[2]

    @property
    def rows(self) -> list[Due]:
        """What is listed: what was, and of what comes no more than a few where it has no end."""
        ahead = [due.pk for due in self.ahead][_LISTED_AHEAD:] if self.has_no_end else []
        listed = [due for due in self.dues if due.state != Due.State.CANCELLED and due.pk not in ahead]
        return sorted(listed, key=lambda due: (due.on, due.position))

    @property
    def has_no_end(self) -> bool:
        return self.agreement.plan is not None and self.agreement.until is None

    @property
    def unpaid(self) -> list[Due]:
        return [due for due in self.dues if due.state in Due.UNPAID]

    @property
    def owed(self) -> list[Due]:
        """Whose day has come, or that could not be taken; what falls into a pause is left out."""
        failed = [due for due in self.unpaid if due.state == Due.State.FAILED]
        if self.agreement.state == Agreement.State.PAUSED and self.agreement.repeats:
            return failed
        return [due for due in self.unpaid if due.on <= self.today or due in failed]

    @property
    def ahead(self) -> list[Due]:
        owed = self.owed
        return [due for due in self.unpaid if due not in owed and due.on >= self.today]

    @property
    def following(self) -> Due | None:
        """The next that comes."""
        return min(self.ahead, key=lambda due: (due.on, due.position), default=None)

    @property
    def paid(self) -> Money:
        """What all payments came to so far."""
        return Money(sum(due.paid_minor for due in self.dues), self.order.currency)

    @property
    def to_come(self) -> Money | None:
        """What is still to be paid in all; None where it has no end."""
        has_end = self.agreement.until is not None or self.agreement.ends_on is not None or self.agreement.plan is None
        return total_of([due.left for due in self.unpaid], self.order.currency) if has_end else None

    @property
    def bank(self) -> str:
        """Where the bank asks its customer to confirm, or nothing."""
        return bank_address(self.under_way) if self.under_way else ""

    @property
    def awaits_answer(self) -> bool:
        """Whether something is being paid, and the buyer can only wait."""
        return self.under_way is not None and not self.bank

    @property
    def is_alive(self) -> bool:
        return self.agreement.state in (Agreement.State.RUNNING, Agreement.State.PAUSED)

    @property
    def state(self) -> str:
        """In a word, as lists say it."""
        return state_words(self.agreement, is_late=any(due.on < self.today for due in self.owed))

    @property
    def is_stopped(self) -> bool:
        return self.agreement.ends_on is not None

    @property
    def is_deposit(self) -> bool:
        return bool(self._plan["kind"] == "deposit")

    @property
    def may_pay_more(self) -> bool:
        """Whether the buyer may pay any sum of the rest, at any time."""
        may = self.is_deposit and bool(self._plan.get("buyer_may_pay_more"))
        return may and self.is_alive and bool(self.unpaid) and self.under_way is None

    @property
    def _plan(self) -> Mapping[str, Any]:
        return self.agreement.plan or {"kind": ""}

    @property
    def choices(self) -> list[Choice]:
        """What can be paid now, the likeliest first; nothing while something is being paid."""
        if self.under_way or not self.is_alive:
            return []
        found = []
        if self.owed:
            found.append(self._choice("due", "What is due", self.owed))
        own = {due.position for due in self.unpaid if due.reason}
        rest = [due for due in self.unpaid if due.position not in own]
        if self.following and not self.is_deposit and not self.following.reason and not self.owed:
            found.append(self._choice("next", "The next payment", [self.following]))
        if self.to_come is not None and rest and (len(rest) > 1 or self.is_deposit) and self.owed != rest:
            found.append(self._choice("all", "All that is left", rest))
        return found

    @property
    def seen(self) -> str:
        """A mark of what can be paid: another as soon as something of it was paid, in another tab or by the clock."""
        choices = [(each.key, each.positions, each.amount.minor) for each in self.choices]
        left = [(due.position, due.left.minor) for due in self.unpaid]
        return hashlib.sha256(repr((choices, left)).encode()).hexdigest()[:16]

    def _choice(self, key: str, words: str, dues: Sequence[Due]) -> Choice:
        amount = total_of([due.left for due in dues], self.order.currency)
        return Choice(key, words, tuple(due.position for due in dues), amount)

    @property
    def can_stop(self) -> bool:
        stops = self.agreement.agreed_rules.stops
        return self.is_alive and not self.is_stopped and self._is_stoppable and stops != "ask"

    @property
    def _is_stoppable(self) -> bool:
        return self.agreement.repeats or self.agreement.plan is None

    @property
    def stops_by_asking(self) -> bool:
        return self.is_alive and self._is_stoppable and self.agreement.agreed_rules.stops == "ask"

    @property
    def can_pause(self) -> bool:
        is_running = self.agreement.state == Agreement.State.RUNNING and not self.is_stopped
        return is_running and self.agreement.repeats and self.agreement.agreed_rules.may_pause

    @property
    def can_resume(self) -> bool:
        return self.agreement.state == Agreement.State.PAUSED and self.agreement.why == Agreement.Why.BUYER

    @property
    def can_skip(self) -> bool:
        is_running = self.agreement.state == Agreement.State.RUNNING and not self.is_stopped
        skips = is_running and self.agreement.repeats and self.agreement.agreed_rules.may_skip
        return skips and self.following is not None and not self.following.reason

    @property
    def can_change_card(self) -> bool:
        is_asked = self.agreement.kept_card is not None and self.under_way is None
        return is_asked and self.agreement.state == Agreement.State.RUNNING and not self.is_stopped


def state_words(agreement: Agreement, *, is_late: bool) -> str:
    """The state in a word; ``is_late``: whether something was not paid on its day."""
    if agreement.state == Agreement.State.RUNNING and agreement.ends_on:
        return "stopped"
    if is_late and agreement.state != Agreement.State.ENDED:
        return "in arrears"
    return str(agreement.state)


def payments_of(order: Order, today: date) -> Payments | None:
    """What is paid over time of the order; None where nothing is."""
    agreement = Agreement.objects.filter(checkout=order.checkout_id).select_related("kept_card").first()
    if agreement is None or agreement.state == Agreement.State.OFFERED:
        return None
    dues = list(Due.objects.filter(checkout=order.checkout_id).order_by("position"))
    undecided = Allocation.objects.filter(due__in=dues, undecided=True).select_related("attempt__checkout").first()
    documents = list(IssuedDocument.objects.filter(order=order).order_by("id"))
    proposal = agreement.proposals.filter(answered_at__isnull=True).first()
    return Payments(order, agreement, dues, today, documents, undecided.attempt if undecided else None, proposal)
