"""What each payment of a quote consists of: the same rows for every due, as a document can be asked for each.

A plan that repeats has a payment of its own each time. Where one sum is paid in several parts (instalments, a deposit
and its rest), each part is shared over what is left of the rows: first over lines, delivery and the covered fee, in
proportion to what of them is left to pay, by largest remainder; then each part as ``left`` says. The last takes what is
left. So every row adds up by itself, and all rows add up to the whole.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import chain, islice, repeat
from typing import NamedTuple

from cravik.core.pricing.fees import Fee
from cravik.core.pricing.left import Left
from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import Payment, Taxed, TaxLine
from cravik.core.pricing.quote import Quote, Workings
from cravik.core.pricing.schedule import DepositPlan, InstalmentsPlan, OncePlan, RepeatPlan
from cravik.core.pricing.shares import in_proportion


class RowLine(NamedTuple):
    """What of a line falls on the payment. ``total`` is what of it is paid, tax and all; ``quantity`` is the whole
    line's; ``taxes`` is its tax by rate."""

    key: str
    quantity: int
    amount: Money
    discount: Money
    tax: Money
    total: Money
    taxes: tuple[TaxLine, ...] = ()


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
    #: The tax on delivery by rate.
    delivery_taxes: tuple[TaxLine, ...] = ()


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


def _all_of(payment: Payment) -> list[Left]:
    """Lines, then delivery, then the covered fee."""
    taxed = iter(payment.taxed)
    lines = [
        _left(line.pick.amount.minor, line.discount.minor, line.total.minor, next(taxed, None))
        for line in payment.lines
    ]
    cover = payment.fee_cover.minor
    delivery = payment.total.minor - cover - sum(each.total for each in lines)
    return [*lines, _left(payment.delivery.minor, 0, delivery, next(taxed, None)), Left(cover, 0, cover)]


def _left(amount: int, discount: int, total: int, taxed: Taxed | None) -> Left:
    if taxed is None:
        return Left(amount, discount, total)
    rates = tuple((rate.name, rate.percent) for rate in taxed.rates)
    return Left(amount, discount, total, rates, list(taxed.by_rate.parts))


def _rows(
    payment: Payment, taken: Sequence[Left], on: date, amount: Money, fee: Fee | None, currency: str
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
                each.taxes(currency),
            )
            for line, each in zip(payment.lines, lines, strict=True)
        ),
        delivery=money(delivery.amount),
        delivery_total=money(delivery.total),
        tax=money(sum(sum(each.parts) for each in taken)),
        tax_lines=tax_by_rate((row for each in taken for row in each.taxes(currency)), payment.tax_lines),
        fee_cover=money(cover.total),
        total=amount,
        fee=fee_on_it,
        net=amount - fee_on_it,
        delivery_taxes=delivery.taxes(currency),
    )


def rows_of_quote(quoted: Quote, on: date) -> PaymentRows:
    """The rows of a quote that was paid at once, from the quote itself."""
    lines = tuple(
        RowLine(line.key, line.quantity, line.amount, line.discount, line.tax, line.total, line.taxes)
        for line in quoted.lines
    )
    nothing = Money(0, quoted.currency)
    return PaymentRows(
        on=on,
        lines=lines,
        delivery=quoted.delivery,
        delivery_total=quoted.total - quoted.fee_cover - sum((line.total for line in lines), nothing),
        tax=quoted.tax,
        tax_lines=quoted.tax_lines,
        fee_cover=quoted.fee_cover,
        total=quoted.total,
        fee=quoted.fee,
        net=quoted.net,
        delivery_taxes=quoted.delivery_taxes,
    )


def tax_by_rate(taxes: Iterable[TaxLine], ordered: Sequence[TaxLine]) -> tuple[TaxLine, ...]:
    """The sums of ``taxes`` by name and percentage; a row for each that is ``ordered``, in that order."""
    sums = {(row.name, row.percent): [row.base - row.base, row.amount - row.amount] for row in ordered}
    for each in taxes:
        row = sums[each.name, each.percent]
        row[0] += each.base
        row[1] += each.amount
    return tuple(TaxLine(name, percent, base, amount) for (name, percent), (base, amount) in sums.items())
