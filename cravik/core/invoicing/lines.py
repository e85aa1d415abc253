"""The lines of a document: of a payment, of all payments of one sum together, or of what went back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from cravik.core.invoicing.content import DocumentLine
from cravik.core.pricing.money import Money
from cravik.core.pricing.quote import QuotedLine
from cravik.core.pricing.refunds import RefundRows
from cravik.core.pricing.rows import PaymentRows


def lines_of_payment(quoted: Sequence[QuotedLine], rows: PaymentRows) -> tuple[DocumentLine, ...]:
    """What a payment of these lines is for. A line of which nothing falls on it is left out, unless it is free."""
    names = {line.key: line for line in quoted}
    nothing = rows.total - rows.total
    lines = [
        DocumentLine(
            "line",
            names[line.key].name,
            names[line.key].options,
            line.quantity,
            line.amount,
            line.discount,
            line.total,
            line.taxes,
        )
        for line in rows.lines
        if line.amount or line.total or not names[line.key].amount
    ]
    if rows.delivery_total or rows.delivery:
        delivery = (rows.delivery, nothing, rows.delivery_total, rows.delivery_taxes)
        lines.append(DocumentLine("delivery", "", (), 1, *delivery))
    if rows.fee_cover:
        lines.append(DocumentLine("cover", "", (), 1, rows.fee_cover, nothing, rows.fee_cover))
    return tuple(lines)


def lines_of_refund(
    quoted: Sequence[QuotedLine], refund: RefundRows, pieces: Mapping[str, int]
) -> tuple[DocumentLine, ...]:
    """What went back, tax and all; of lines of which no ``pieces`` were named, a part of the sum."""
    names = {line.key: line for line in quoted}
    nothing = Money(0, refund.total.currency)

    def line(kind: str, key: str, total: Money, taxes: tuple[object, ...] = ()) -> DocumentLine:
        name, options = (names[key].name, names[key].options) if key else ("", ())
        return DocumentLine(kind, name, options, pieces.get(key, 1), total, nothing, total, taxes)  # type: ignore[arg-type]

    found = [line("line", each.key, each.total, each.taxes) for each in refund.lines]
    if refund.delivery:
        found.append(line("delivery", "", refund.delivery, refund.delivery_taxes))
    if refund.cover:
        found.append(line("cover", "", refund.cover))
    return tuple(found)
