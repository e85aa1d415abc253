"""What was charged for an order, what each charge consists of, and what of it went back."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from cravik.core.documents.quote import kept_payments
from cravik.core.pricing.money import Money
from cravik.core.pricing.portion import portion_of, together
from cravik.core.pricing.quote import QuotedLine
from cravik.core.pricing.refunds import RefundShares, share_out
from cravik.core.pricing.rows import PaymentRows, RowLine
from cravik.links.life.shown_version import shown_version
from cravik.orders.models import Order
from cravik.payments.models import Allocation, Attempt, Due, Refund


@dataclass(frozen=True)
class Charge:
    """An approved charge of an order, its rows, and its refunds, the first one first, whatever became of them."""

    attempt: Attempt
    rows: PaymentRows
    refunds: tuple[Refund, ...]

    @property
    def left(self) -> Money:
        """What is neither given back nor about to be."""
        return Money(self.attempt.amount_minor - self.attempt.refunded_minor, self.attempt.currency)

    @property
    def done(self) -> list[Refund]:
        """The refunds that went back, in the order of the ledger; by a clock that was put back it may be another."""
        done = (each for each in self.refunds if each.state == Refund.State.DONE)
        return sorted(done, key=lambda each: each.movement.pk)

    @property
    def standing(self) -> list[Refund]:
        """The refunds that went back or may still."""
        return [each for each in self.refunds if each.state != Refund.State.REFUSED]

    @property
    def pieces_gone(self) -> dict[str, int]:
        """How many pieces of its lines were said to go back."""
        gone: dict[str, int] = {}
        for refund in self.standing:
            for line, number in refund.pieces.items():
                gone[line] = gone.get(line, 0) + number
        return gone


def charges_with_rows(order: Order) -> list[Charge]:
    """The approved charges of the order, the first one first."""
    return charges_of_each([order])[order.pk]


def charge_with_rows(order: Order, attempt: Attempt) -> Charge:
    """One of them, as it stands now."""
    return next(charge for charge in charges_with_rows(order) if charge.attempt.pk == attempt.pk)


def charges_of_each(orders: Sequence[Order]) -> dict[int, list[Charge]]:
    """The same of several orders by their ids, in as many queries as for one."""
    checkouts = [order.checkout_id for order in orders]
    approved = Attempt.objects.filter(checkout__in=checkouts, state=Attempt.State.APPROVED, amount_minor__gt=0)
    attempts: dict[int, list[Attempt]] = {}
    for attempt in approved.order_by("id").prefetch_related("refunds__movement"):
        attempts.setdefault(attempt.checkout_id, []).append(attempt)
    allocations: dict[int, list[Allocation]] = {}
    for each in Allocation.objects.filter(attempt__in=approved).select_related("due").order_by("attempt_id", "due_id"):
        allocations.setdefault(each.due.checkout_id, []).append(each)
    return {
        order.pk: _charges(order, attempts.get(order.checkout_id, []), allocations.get(order.checkout_id, []))
        for order in orders
    }


def _charges(order: Order, attempts: Sequence[Attempt], allocations: Sequence[Allocation]) -> list[Charge]:
    if not attempts:
        return []
    payments = kept_payments(order.checkout.line.quote_document, order.made_at.date())
    found: dict[int, list[PaymentRows]] = {}
    taken: dict[int, list[int]] = {}
    for each in allocations:
        rows = _rows_of_due(order, each.due, payments)
        earlier = taken.setdefault(each.due_id, [])
        is_whole = not earlier and each.amount_minor == rows.total.minor
        found.setdefault(each.attempt_id, []).append(rows if is_whole else portion_of(rows, earlier, each.amount_minor))
        earlier.append(each.amount_minor)
    return [Charge(each, together(found[each.pk]), tuple(each.refunds.all())) for each in attempts]


def named_lines(order: Order, keys: Iterable[str]) -> tuple[QuotedLine, ...]:
    """The lines of the order by which those with these keys are named: those of its quote, and, where it takes them,
    each sum of its own."""
    quoted = order.checkout.quote.lines
    if set(keys) <= {line.key for line in quoted}:
        return quoted
    own = Due.objects.filter(checkout=order.checkout_id).exclude(reason="").order_by("position")
    nothing = Money(0, order.currency)
    sums = (
        QuotedLine(_own_key(due), due.reason, (), 1, due.amount, due.amount, nothing, nothing, due.amount)
        for due in own
    )
    return (*quoted, *sums)


def _own_key(due: Due) -> str:
    return f"sum-{due.position}"


def _rows_of_due(order: Order, due: Due, payments: Sequence[PaymentRows]) -> PaymentRows:
    """What the due consists of as it stands now. A sum of its own is one line without tax; what comes to more than was
    quoted, since its buyer agreed to that, is shared as the quote is."""
    rows = payments[min(due.position, len(payments) - 1)]
    if due.reason or (not rows.total and due.amount_minor):
        return _own_rows(order, due)
    if due.amount_minor > rows.total.minor:
        times = -(-due.amount_minor // rows.total.minor)
        return portion_of(together([rows] * times), [], due.amount_minor)
    return rows


def _own_rows(order: Order, due: Due) -> PaymentRows:
    nothing, fee = Money(0, due.currency), shown_version(order.version_id).content.offer.fee
    taken = fee.on(due.amount) if fee else nothing
    return PaymentRows(
        on=due.on,
        lines=(RowLine(_own_key(due), 1, due.amount, nothing, nothing, due.amount),),
        delivery=nothing,
        delivery_total=nothing,
        tax=nothing,
        tax_lines=(),
        fee_cover=nothing,
        total=due.amount,
        fee=taken,
        net=due.amount - taken,
    )


def shares_of(rows: PaymentRows, refunds: Iterable[Refund]) -> list[RefundShares]:
    """What each of a charge's refunds takes of its parts. One of before that did not say takes of all that was left."""
    found: list[RefundShares] = []
    for refund in refunds:
        kept = refund.shares
        if kept:
            found.append(RefundShares(kept["lines"], kept["delivery"], kept["cover"]))
        else:
            found.append(share_out(rows, found, refund.amount_minor))
    return found
