"""Writing the rows of each payment, as ``cravik.rows/1`` documents."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Any

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.rows import PaymentRows, RowLine

FORMAT = "cravik.rows/1"


def write_rows(rows: Sequence[PaymentRows], currency: str) -> dict[str, Any]:
    """The payments in their order, amounts as in a quote's document."""
    return {"format": FORMAT, "currency": currency, "payments": [write_payment(each) for each in rows]}


def write_tax_lines(tax_lines: Iterable[TaxLine]) -> list[dict[str, str]]:
    """Tax by name and percentage, of a quote or of one payment."""
    return [
        {"name": row.name, "percent": row.percent.text, "base": row.base.major, "amount": row.amount.major}
        for row in tax_lines
    ]


def read_tax_lines(rows: Iterable[Mapping[str, str]], currency: str) -> tuple[TaxLine, ...]:
    """What ``write_tax_lines`` wrote."""
    return tuple(
        TaxLine(
            row["name"],
            Percent.parse(row["percent"]),
            Money.parse(row["base"], currency),
            Money.parse(row["amount"], currency),
        )
        for row in rows
    )


def write_kept_payment(rows: PaymentRows) -> dict[str, Any]:
    """One of them as it is kept with what was paid: each line, and delivery, with its tax by rate."""
    document = write_payment(rows)
    for line, row in zip(rows.lines, document["lines"], strict=True):
        row["taxes"] = write_tax_lines(line.taxes)
    document["delivery_taxes"] = write_tax_lines(rows.delivery_taxes)
    return document


def read_kept_payment(document: Mapping[str, Any], currency: str) -> PaymentRows:
    """What ``write_kept_payment`` wrote."""

    def money(text: str) -> Money:
        return Money.parse(text, currency)

    sums = ("delivery", "delivery_total", "tax", "fee_cover", "total", "fee", "net")
    return PaymentRows(
        on=date.fromisoformat(document["on"]),
        lines=tuple(
            RowLine(
                key=line["key"],
                quantity=line["quantity"],
                amount=money(line["amount"]),
                discount=money(line["discount"]),
                tax=money(line["tax"]),
                total=money(line["total"]),
                taxes=read_tax_lines(line.get("taxes", ()), currency),
            )
            for line in document["lines"]
        ),
        tax_lines=read_tax_lines(document["tax_lines"], currency),
        delivery_taxes=read_tax_lines(document.get("delivery_taxes", ()), currency),
        **{name: money(document[name]) for name in sums},
    )


def write_payment(rows: PaymentRows) -> dict[str, Any]:
    """One of them."""
    return {
        "on": rows.on.isoformat(),
        "lines": [
            {
                "key": line.key,
                "quantity": line.quantity,
                "amount": line.amount.major,
                "discount": line.discount.major,
                "tax": line.tax.major,
                "total": line.total.major,
            }
            for line in rows.lines
        ],
        "delivery": rows.delivery.major,
        "delivery_total": rows.delivery_total.major,
        "tax": rows.tax.major,
        "tax_lines": write_tax_lines(rows.tax_lines),
        "fee_cover": rows.fee_cover.major,
        "total": rows.total.major,
        "fee": rows.fee.major,
        "net": rows.net.major,
    }
