"""Writing the rows of each payment, as ``cravik.rows/1`` documents."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.rows import PaymentRows

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
