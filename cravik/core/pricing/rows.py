"""What each payment of a quote consists of: the same rows for every due, as a document can be asked for each.

A plan that repeats has a payment of its own each time. Where one sum is paid in several parts (instalments, a deposit
and its rest), each part is shared over what is left of the rows: first over lines, delivery and the covered fee, in
proportion to what of them is left to pay, by largest remainder; then what falls on a line over its discount and its tax
in the same proportion, rounded, and the tax over its rates by largest remainder. The last part takes what is left. So
every row adds up by itself, and all rows add up to the whole.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import date
from itertools import chain, islice, repeat
from typing import NamedTuple

from cravik.core.pricing.fees import Fee
from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import Payment, Taxed, TaxLine
from cravik.core.pricing.percent import Percent, rounded_ratio
from cravik.core.pricing.quote import Workings
from cravik.core.pricing.schedule import DepositPlan, InstalmentsPlan, OncePlan, RepeatPlan
from cravik.core.pricing.shares import in_proportion


class RowLine(NamedTuple):
    """What of a line falls on the payment. ``total`` is what of it is paid, tax and all; ``quantity`` is the whole
    line's."""

    key: str
    quantity: int
    amount: Money
    discount: Money
    tax: Money
    total: Money


@dataclass(frozen=True, slots=True)
class PaymentRows:
    """One payment. ``delivery`` is what of the zone's charge falls on it, ``delivery_total`` that with its tax; the
    ``fee`` is this payment's own, and ``net`` what it leaves."""

    on: date
    lines: tuple[RowLine, ...]
    delivery: Money
    delivery_total: Money
    tax: Money
    tax_lines: tuple[TaxLine, ...]
    fee_cover: Money
    total: Money
    fee: Money
    net: Money


@dataclass(slots=True)
class _Left:
    """What is left of a line, of delivery, or of the covered fee, in minor units.

    ``gap`` is what the total is more than the amount after its discount: the tax where it comes on top, less what a
    buyer accounts for.
    """

    amount: int
    discount: int
    total: int
    taxed: Taxed | None
    parts: list[int] = field(default_factory=list)

    @property
    def gap(self) -> int:
        return self.total - self.amount + self.discount

    def take(self, part: int, of: int, whole: int) -> _Left:
        """Take ``part`` of the total away, and return what it consists of. Of something that costs nothing, as much is
        taken as the payment ``of`` is of the ``whole`` that is left."""
        share, left = (part, self.total) if self.total else (of, whole)
        discount, tax = _share(self.discount, share, left), _share(sum(self.parts), share, left)
        gap = tax if self.gap == sum(self.parts) else _share(self.gap, share, left)
        taken = _Left(part + discount - gap, discount, part, self.taxed, in_proportion(tax, self.parts))
        self.amount, self.discount, self.total = self.amount - taken.amount, self.discount - discount, self.total - part
        self.parts = [there - gone for there, gone in zip(self.parts, taken.parts, strict=True)]
        return taken


def rows_of(work: Workings) -> list[PaymentRows]:
    """The rows of every payment of a quote, the first and the later ones that it lists."""
    quoted, fee, plan = work.quote, work.given.offer.fee, work.plan
    match plan:
        case OncePlan():
            return [_whole_rows(work.payment, work.on, fee, quoted.currency)]
        case InstalmentsPlan() | DepositPlan():
            sums = [(work.on, quoted.due_now), *quoted.schedule]
            return list(_shared_rows(work.payment, sums, fee, quoted.currency))
        case RepeatPlan():
            repeated = work.repeated
            assert repeated is not None
            # Without a trial the first of them falls to now, with what is charged once.
            full = chain([] if plan.trial else [repeated.now], repeat(repeated.each))
            if plan.first and repeated.lasting:
                full = chain(islice(full, plan.first.payments), repeat(repeated.lasting))
            payments = chain([repeated.now], full if plan.trial else islice(full, 1, None))
            days = (work.on, *(later.on for later in quoted.schedule))
            return [_whole_rows(next(payments), on, fee, quoted.currency) for on in days]


def _shared_rows(
    payment: Payment, sums: Sequence[tuple[date, Money]], fee: Fee | None, currency: str
) -> Iterator[PaymentRows]:
    """The rows of every part of one payment; the ``sums``, each with its day, come to its total."""
    left = _all_of(payment)
    for on, amount in sums:
        due, whole = amount.minor, sum(each.total for each in left)
        parts = in_proportion(due, [each.total for each in left])
        taken = [each.take(part, due, whole) for each, part in zip(left, parts, strict=True)]
        yield _rows(payment, taken, on, amount, fee, currency)


def _whole_rows(payment: Payment, on: date, fee: Fee | None, currency: str) -> PaymentRows:
    """The rows of a payment that is paid at once."""
    return _rows(payment, _all_of(payment), on, payment.total, fee, currency)


def _all_of(payment: Payment) -> list[_Left]:
    """Lines, then delivery, then the covered fee."""
    taxed = iter(payment.taxed)
    left = []
    for line in payment.lines:
        of_line = next(taxed, None)
        parts = list(of_line.by_rate.parts) if of_line else []
        left.append(_Left(line.pick.amount.minor, line.discount.minor, line.total.minor, of_line, parts))
    of_delivery = next(taxed, None)
    parts = list(of_delivery.by_rate.parts) if of_delivery else []
    cover = payment.fee_cover.minor
    delivery = payment.total.minor - cover - sum(each.total for each in left)
    left.append(_Left(payment.delivery.minor, 0, delivery, of_delivery, parts))
    left.append(_Left(cover, 0, cover, None))
    return left


def _rows(
    payment: Payment, taken: Sequence[_Left], on: date, amount: Money, fee: Fee | None, currency: str
) -> PaymentRows:
    def money(minor: int) -> Money:
        return Money(minor, currency)

    *lines, delivery, cover = taken
    fee_on_it = fee.on(amount) if fee else money(0)
    return PaymentRows(
        on=on,
        lines=tuple(
            RowLine(
                line.pick.line.key,
                line.pick.quantity,
                money(each.amount),
                money(each.discount),
                money(sum(each.parts)),
                money(each.total),
            )
            for line, each in zip(payment.lines, lines, strict=True)
        ),
        delivery=money(delivery.amount),
        delivery_total=money(delivery.total),
        tax=money(sum(sum(each.parts) for each in taken)),
        tax_lines=_tax_lines(payment, taken, currency),
        fee_cover=money(cover.total),
        total=amount,
        fee=fee_on_it,
        net=amount - fee_on_it,
    )


def _tax_lines(payment: Payment, taken: Sequence[_Left], currency: str) -> tuple[TaxLine, ...]:
    """By name and percentage, as they stand in the whole."""
    sums = {(row.name, row.percent.ten_thousandths): [0, 0] for row in payment.tax_lines}
    for each in taken:
        if each.taxed is None:
            continue
        for rate, part in zip(each.taxed.rates, each.parts, strict=True):
            row = sums[rate.name, rate.percent.ten_thousandths]
            row[0] += each.total - sum(each.parts)
            row[1] += part
    return tuple(
        TaxLine(name, Percent(percent), Money(base, currency), Money(tax, currency))
        for (name, percent), (base, tax) in sums.items()
    )


def _share(whole: int, part: int, of: int) -> int:
    """So much of ``whole`` as ``part`` is ``of``, rounded; all of it where that is of nothing."""
    return rounded_ratio(whole * part, of) if of else whole
