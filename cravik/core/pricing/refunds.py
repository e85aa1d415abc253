"""What goes back of a payment: of its lines, its delivery and the fee that its buyer covered, with the tax in each.

Money that goes back after a sale lowers what was taxed and its tax in the same proportion (Council Directive
2006/112/EC, article 90). Each refund takes its part from what those before it left, as ``left`` says; so by line, by
rate and in sum no more goes back than was paid, and the last takes the rest.

>>> from datetime import date
>>> from cravik.core.pricing.basket import Basket
>>> from cravik.core.pricing.offer import simple_offer
>>> from cravik.core.pricing.quote import quote
>>> from cravik.core.pricing.rows import rows_of_quote
>>> on = date(2026, 11, 23)
>>> repair = rows_of_quote(quote(simple_offer("Kite repair", Money(2400, "EUR")), Basket(on)), on)
>>> share_out(repair, [], 1000).lines
{'purpose': 1000}
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from cravik.core.pricing.left import Left
from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import rounded_ratio
from cravik.core.pricing.rows import PaymentRows, tax_by_rate
from cravik.core.pricing.shares import in_proportion


@dataclass(frozen=True)
class RefundShares:
    """How much of each part of a payment goes back, tax and all, in minor units: of lines, by their keys, of delivery,
    and of the fee that the buyer covered."""

    lines: Mapping[str, int] = field(default_factory=dict)
    delivery: int = 0
    cover: int = 0

    @property
    def total(self) -> int:
        return sum(self.lines.values()) + self.delivery + self.cover


class RefundLine(NamedTuple):
    """What of a line goes back, with the tax in it by rate."""

    key: str
    total: Money
    taxes: tuple[TaxLine, ...]


@dataclass(frozen=True, slots=True)
class RefundRows:
    """A refund, row by row. ``tax`` is in the ``total``."""

    lines: tuple[RefundLine, ...]
    delivery: Money
    delivery_taxes: tuple[TaxLine, ...]
    cover: Money
    tax: Money
    tax_lines: tuple[TaxLine, ...]
    total: Money


def left_to_give_back(rows: PaymentRows, earlier: Sequence[RefundShares]) -> RefundShares:
    """What the ``earlier`` refunds left of the payment. Raises ``ValueError`` where they are more than it."""
    parts = _left(rows, earlier)
    lines = {line.key: left.total for line, left in zip(rows.lines, parts, strict=False)}
    return RefundShares(lines, parts[-2].total, parts[-1].total)


def share_out(rows: PaymentRows, earlier: Sequence[RefundShares], minor: int) -> RefundShares:
    """So much of the payment, over all that is left of it in proportion, by largest remainder.

    Raises ``ValueError`` where less is left.
    """
    left = left_to_give_back(rows, earlier)
    if not 0 <= minor <= left.total:
        raise ValueError(f"{minor} is not within the {left.total} that are left")
    *lines, delivery, cover = in_proportion(minor, [*left.lines.values(), left.delivery, left.cover])
    return RefundShares({key: part for key, part in zip(left.lines, lines, strict=True) if part}, delivery, cover)


def share_of_pieces(
    rows: PaymentRows,
    earlier: Sequence[RefundShares],
    gone: Mapping[str, int],
    wanted: Mapping[str, int],
    *,
    delivery: bool = False,
    cover: bool = False,
) -> RefundShares:
    """What so many pieces of the lines come to, of which as many as ``gone`` says went back before.

    A piece is its share of the line, each sum of pieces rounded; the last takes what is left of it. ``delivery`` and
    ``cover`` take what is left of these. Raises ``ValueError`` for more pieces than are left, and for an unknown line.
    """
    left = left_to_give_back(rows, earlier)
    lines = {line.key: line for line in rows.lines}
    if unknown := wanted.keys() - lines.keys():
        raise ValueError(f"no line is called {min(unknown)}")
    shares = {}
    for key, number in wanted.items():
        line, before = lines[key], gone.get(key, 0)
        if not 0 <= number <= line.quantity - before:
            raise ValueError(f"{number} is not within the {line.quantity - before} pieces of {key} that are left")
        if before + number == line.quantity:
            share = left.lines[key] if number else 0
        else:
            up_to, had = (rounded_ratio(line.total.minor * many, line.quantity) for many in (before + number, before))
            share = min(up_to - had, left.lines[key])
        if share:
            shares[key] = share
    return RefundShares(shares, left.delivery if delivery else 0, left.cover if cover else 0)


def rows_of_refund(rows: PaymentRows, earlier: Sequence[RefundShares], shares: RefundShares) -> RefundRows:
    """The refund with the tax in it. Raises ``ValueError`` where less is left of something."""
    parts, currency = _left(rows, earlier), rows.total.currency
    *lines, delivery, cover = _take(rows, parts, shares)
    taken = [*lines, delivery, cover]
    return RefundRows(
        lines=tuple(
            RefundLine(line.key, Money(left.total, currency), left.taxes(currency))
            for line, left in zip(rows.lines, lines, strict=True)
            if left.total
        ),
        delivery=Money(delivery.total, currency),
        delivery_taxes=delivery.taxes(currency) if delivery.total else (),
        cover=Money(cover.total, currency),
        tax=Money(sum(sum(left.parts) for left in taken), currency),
        tax_lines=tax_by_rate((row for left in taken for row in left.taxes(currency)), rows.tax_lines),
        total=Money(shares.total, currency),
    )


def fee_of_refund(rows: PaymentRows, earlier: Sequence[RefundShares], shares: RefundShares) -> Money:
    """What of the processor's fee comes back with the refund, where it does: in proportion, all of it with the last."""
    before = sum(each.total for each in earlier)

    def back(refunded: int) -> int:
        return rounded_ratio(rows.fee.minor * refunded, rows.total.minor) if rows.total else 0

    return Money(back(before + shares.total) - back(before), rows.total.currency)


def _left(rows: PaymentRows, earlier: Sequence[RefundShares]) -> list[Left]:
    """What is left of the lines, then of delivery and of the covered fee."""
    parts = [_part(line.total, line.taxes) for line in rows.lines]
    parts += [_part(rows.delivery_total, rows.delivery_taxes), _part(rows.fee_cover, ())]
    for shares in earlier:
        _take(rows, parts, shares)
    return parts


def _part(total: Money, taxes: Sequence[TaxLine]) -> Left:
    rates = tuple((row.name, row.percent) for row in taxes)
    return Left(total.minor, 0, total.minor, rates, [row.amount.minor for row in taxes])


def _take(rows: PaymentRows, parts: Sequence[Left], shares: RefundShares) -> list[Left]:
    wanted = [*(shares.lines.get(line.key, 0) for line in rows.lines), shares.delivery, shares.cover]
    if sum(wanted) != shares.total:
        raise ValueError("a line that the payment does not have is to go back")
    for left, minor in zip(parts, wanted, strict=True):
        if not 0 <= minor <= left.total:
            raise ValueError(f"{minor} is not within the {left.total} that are left")
    return [left.take(minor) if minor else _none(left) for left, minor in zip(parts, wanted, strict=True)]


def _none(left: Left) -> Left:
    return Left(0, 0, 0, left.rates, [0] * len(left.rates))
