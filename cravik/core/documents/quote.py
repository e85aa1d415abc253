"""Writing quotes, and refusals, as ``cravik.quote/1`` documents, and reading back what was written here."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Any

from cravik.core.documents.rows import read_kept_payment, read_tax_lines, write_kept_payment, write_tax_lines
from cravik.core.errors import Fault
from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.price import Portion
from cravik.core.pricing.quote import LaterPayment, Quote, QuotedLine
from cravik.core.pricing.rows import PaymentRows, rows_of_quote
from cravik.core.pricing.shares import in_proportion
from cravik.core.text.faults import fault_words

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
        "tax_lines": write_tax_lines(quoted.tax_lines),
        "fee_cover": quoted.fee_cover.major,
        "total": quoted.total.major,
        "due_now": quoted.due_now.major,
        "schedule": [{"on": later.on.isoformat(), "amount": later.amount.major} for later in quoted.schedule],
        "fee": quoted.fee.major,
        "net": quoted.net.major,
    }


def write_kept_quote(quoted: Quote, rows: Sequence[PaymentRows] = ()) -> dict[str, Any]:
    """The same with each line's name and options, as it is kept with what was paid: it stands without its offer.

    ``rows`` are those of each payment, where there are several.
    """
    document = write_quote(quoted)
    if rows:
        document["payments"] = [write_kept_payment(each) for each in rows]
    for line, row in zip(quoted.lines, document["lines"], strict=True):
        row["name"], row["options"] = line.name, list(line.options)
        if line.taxes:
            row["taxes"] = write_tax_lines(line.taxes)
        if line.made_of:
            row["made_of"] = [[part.number, part.size, part.amount.major] for part in line.made_of]
    if quoted.delivery_taxes:
        document["delivery_taxes"] = write_tax_lines(quoted.delivery_taxes)
    if quoted.lasting is not None:
        document["lasting"] = quoted.lasting.major
    if quoted.code:
        percent = {"percent": quoted.code_percent.text} if quoted.code_percent else {}
        document["code"] = {"code": quoted.code, **percent}
    return document


def read_kept_quote(document: Mapping[str, Any]) -> Quote:
    """The quote that ``write_kept_quote`` wrote. One of before that has no tax by rate for each line gets it anew."""
    currency = document["currency"]

    def money(text: str) -> Money:
        return Money.parse(text, currency)

    code = document.get("code", {})
    taxes = _taxes_of_each(document)
    return Quote(
        currency=currency,
        lines=tuple(
            QuotedLine(
                key=line["key"],
                name=line["name"],
                options=tuple(line["options"]),
                quantity=line["quantity"],
                unit=None if line["unit"] is None else money(line["unit"]),
                amount=money(line["amount"]),
                discount=money(line["discount"]),
                tax=money(line["tax"]),
                total=money(line["total"]),
                made_of=tuple(Portion(number, size, money(amount)) for number, size, amount in line.get("made_of", ())),
                taxes=of_line,
            )
            for line, of_line in zip(document["lines"], taxes, strict=False)  # delivery comes last
        ),
        tax_lines=read_tax_lines(document["tax_lines"], currency),
        delivery_taxes=taxes[-1],
        lasting=money(document["lasting"]) if "lasting" in document else None,
        code=code.get("code", ""),
        code_percent=Percent.parse(code["percent"]) if "percent" in code else None,
        schedule=tuple(
            LaterPayment(date.fromisoformat(later["on"]), money(later["amount"])) for later in document["schedule"]
        ),
        **{
            name: money(document[name])
            for name in ("subtotal", "discount", "delivery", "tax", "fee_cover", "total", "due_now", "fee", "net")
        },
    )


def kept_payments(document: Mapping[str, Any], on: date) -> tuple[PaymentRows, ...]:
    """The rows of each payment that a kept quote lists; of one that was paid at once, on that day, its own."""
    if "payments" in document:
        return tuple(read_kept_payment(each, document["currency"]) for each in document["payments"])
    return (rows_of_quote(read_kept_quote(document), on),)


def _taxes_of_each(document: Mapping[str, Any]) -> list[tuple[TaxLine, ...]]:
    """The tax by rate of every line, and of delivery after them.

    Where it was not kept, each line's tax is shared over the rates in proportion to what is left of them, so that the
    sums by rate are those of the quote.
    """
    currency = document["currency"]
    lines, rates = document["lines"], read_tax_lines(document["tax_lines"], currency)
    if not rates or "delivery_taxes" in document or any("taxes" in line for line in lines):
        return [read_tax_lines(each.get("taxes", ()), currency) for each in lines] + [
            read_tax_lines(document.get("delivery_taxes", ()), currency)
        ]
    left = [row.amount.minor for row in rates]
    sums = [(Money.parse(line["total"], currency), Money.parse(line["tax"], currency)) for line in lines]
    whole = [Money.parse(document[name], currency) for name in ("total", "tax", "fee_cover")]
    nothing = Money(0, currency)
    paid, taxed = sum((total for total, _ in sums), nothing), sum((tax for _, tax in sums), nothing)
    found = []
    for total, tax in [*sums, (whole[0] - whole[2] - paid, whole[1] - taxed)]:
        parts = in_proportion(tax.minor, left)
        left = [there - part for there, part in zip(left, parts, strict=True)]
        rows = zip(rates, parts, strict=True)
        found.append(
            tuple(TaxLine(row.name, row.percent, total - tax, Money(part, currency)) for row, part in rows if part)
        )
    return found


def write_refusals(faults: Iterable[Fault]) -> dict[str, Any]:
    """Everything that is wrong; ``limit`` is there where a bound was broken."""
    return {"format": FORMAT, "errors": [write_fault(fault) for fault in faults]}


def write_fault(fault: Fault) -> dict[str, Any]:
    """One fault, or one warning, as a JSON object."""
    document: dict[str, Any] = {"code": fault.code, "at": fault.at, "message": fault_words(fault)}
    if fault.limit is not None:
        document["limit"] = fault.limit
    return document
