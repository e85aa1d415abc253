"""Writing quotes, and refusals, as ``cravik.quote/1`` documents, and reading back what was written here."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date
from typing import Any

from cravik.core.errors import Fault
from cravik.core.money import Money
from cravik.core.percent import Percent
from cravik.core.quote import LaterPayment, Quote, QuotedLine, TaxLine

FORMAT = "cravik.quote/1"


def write_quote(quoted: Quote) -> dict[str, Any]:
    """The quote, amounts as strings in major units with exactly the currency's digits."""
    return {
        "format": FORMAT,
        "currency": quoted.currency,
        "lines": [
            {
                "key": line.key,
                "quantity": line.quantity,
                "unit": None if line.unit is None else line.unit.major,
                "amount": line.amount.major,
                "discount": line.discount.major,
                "tax": line.tax.major,
                "total": line.total.major,
            }
            for line in quoted.lines
        ],
        "subtotal": quoted.subtotal.major,
        "discount": quoted.discount.major,
        "delivery": quoted.delivery.major,
        "tax": quoted.tax.major,
        "tax_lines": [
            {"name": row.name, "percent": row.percent.text, "base": row.base.major, "amount": row.amount.major}
            for row in quoted.tax_lines
        ],
        "fee_cover": quoted.fee_cover.major,
        "total": quoted.total.major,
        "due_now": quoted.due_now.major,
        "schedule": [{"on": later.on.isoformat(), "amount": later.amount.major} for later in quoted.schedule],
        "fee": quoted.fee.major,
        "net": quoted.net.major,
    }


def read_quote(document: Mapping[str, Any], names: Mapping[str, str], options: tuple[str, ...] = ()) -> Quote:
    """The quote that ``write_quote`` wrote; ``names`` are the offer's lines by key, ``options`` what was picked of
    the first of them: neither is in the document."""
    currency = document["currency"]

    def money(text: str) -> Money:
        return Money.from_major(text, currency)

    return Quote(
        currency=currency,
        lines=tuple(
            QuotedLine(
                key=line["key"],
                name=names.get(line["key"], line["key"]),
                options=options if number == 0 else (),
                quantity=line["quantity"],
                unit=None if line["unit"] is None else money(line["unit"]),
                amount=money(line["amount"]),
                discount=money(line["discount"]),
                tax=money(line["tax"]),
                total=money(line["total"]),
            )
            for number, line in enumerate(document["lines"])
        ),
        tax_lines=tuple(
            TaxLine(row["name"], Percent.from_text(row["percent"]), money(row["base"]), money(row["amount"]))
            for row in document["tax_lines"]
        ),
        schedule=tuple(
            LaterPayment(date.fromisoformat(later["on"]), money(later["amount"])) for later in document["schedule"]
        ),
        **{
            name: money(document[name])
            for name in ("subtotal", "discount", "delivery", "tax", "fee_cover", "total", "due_now", "fee", "net")
        },
    )


def write_refusals(faults: Iterable[Fault]) -> dict[str, Any]:
    """Everything that is wrong; ``limit`` is there where a bound was broken."""
    return {"format": FORMAT, "errors": [write_fault(fault) for fault in faults]}


def write_fault(fault: Fault) -> dict[str, Any]:
    """One fault, or one warning, as a JSON object."""
    document: dict[str, Any] = {"code": fault.code, "at": fault.at, "message": fault.message}
    if fault.limit is not None:
        document["limit"] = fault.limit
    return document
