"""What a charge consists of that paid several payments at once, or only a part of one."""

from __future__ import annotations

from collections.abc import Sequence
from functools import reduce

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import rounded_ratio
from cravik.core.pricing.refunds import RefundShares, rows_of_refund, share_out
from cravik.core.pricing.rows import PaymentRows, RowLine


def portion_of(rows: PaymentRows, earlier: Sequence[int], minor: int) -> PaymentRows:
    """So much of a payment, of which as much as ``earlier`` says, in minor units, was paid before in that order.

    It is shared over what is left of the rows, as a refund is; amounts are those after the discount. The fee is in
    proportion. Raises ``ValueError`` where less is left.
    """
    taken: list[RefundShares] = []
    for each in earlier:
        taken.append(share_out(rows, taken, each))
    found = rows_of_refund(rows, taken, share_out(rows, taken, minor))
    nothing, lines = Money(0, rows.total.currency), {line.key: line for line in found.lines}

    def line_of(line: RowLine) -> RowLine:
        part = lines.get(line.key)
        total, taxes = (part.total, part.taxes) if part else (nothing, ())
        tax = sum((row.amount for row in taxes), nothing)
        return RowLine(line.key, line.quantity, total - tax, nothing, tax, total, taxes)

    delivery_tax = sum((row.amount for row in found.delivery_taxes), nothing)
    fee = Money(rounded_ratio(rows.fee.minor * minor, rows.total.minor) if rows.total else 0, rows.total.currency)
    return PaymentRows(
        on=rows.on,
        lines=tuple(line_of(line) for line in rows.lines),
        delivery=found.delivery - delivery_tax,
        delivery_total=found.delivery,
        tax=found.tax,
        tax_lines=found.tax_lines,
        fee_cover=found.cover,
        total=found.total,
        fee=fee,
        net=found.total - fee,
        delivery_taxes=found.delivery_taxes,
    )


def together(payments: Sequence[PaymentRows]) -> PaymentRows:
    """Several payments as one, dated as the first; never none."""
    return reduce(_plus, payments)


def _plus(one: PaymentRows, other: PaymentRows) -> PaymentRows:
    lines = {line.key: line for line in one.lines}
    for line in other.lines:
        lines[line.key] = _line_plus(lines[line.key], line) if line.key in lines else line
    sums = ("delivery", "delivery_total", "tax", "fee_cover", "total", "fee", "net")
    return PaymentRows(
        on=one.on,
        lines=tuple(lines.values()),
        tax_lines=_taxes_plus(one.tax_lines, other.tax_lines),
        delivery_taxes=_taxes_plus(one.delivery_taxes, other.delivery_taxes),
        **{name: getattr(one, name) + getattr(other, name) for name in sums},
    )


def _line_plus(one: RowLine, other: RowLine) -> RowLine:
    amounts = {name: getattr(one, name) + getattr(other, name) for name in ("amount", "discount", "tax", "total")}
    return one._replace(**amounts, taxes=_taxes_plus(one.taxes, other.taxes))


def _taxes_plus(one: Sequence[TaxLine], other: Sequence[TaxLine]) -> tuple[TaxLine, ...]:
    sums = {(row.name, row.percent): row for row in one}
    for row in other:
        there = sums.get((row.name, row.percent))
        sums[row.name, row.percent] = (
            there._replace(base=there.base + row.base, amount=there.amount + row.amount) if there else row
        )
    return tuple(sums.values())
