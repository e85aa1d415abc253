"""A receipt, an invoice or a credit note in words and figures, as its page, its letter and its PDF show it alike."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import NamedTuple

from babel import Locale
from babel.dates import format_date
from babel.numbers import format_decimal

from cravik.core.invoicing.content import Content, DocumentLine, Party, Reference
from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.text.countries import country_words
from cravik.core.text.money_text import format_money, format_money_clearly

REHEARSED = "This is a rehearsal: no money moved, and it belongs in nobody's books."
REVERSED = "Reverse charge: the buyer accounts for the tax (Directive 2006/112/EC, article 196)."
_INVOICES = {"whole": "Invoice", "period": "Invoice", "prepayment": "Prepayment invoice", "final": "Final invoice"}
_NAMES = {"delivery": "Delivery", "cover": "The card fee, which you cover"}


class SheetRow(NamedTuple):
    """A line: how many, what, how its amount comes about, and what it comes to; ``net`` and ``rate`` where there is
    tax."""

    quantity: str
    words: str
    detail: str
    net: str
    rate: str
    total: str


class SheetSum(NamedTuple):
    words: str
    amount: str
    is_main: bool = False


@dataclass(frozen=True)
class Sheet:
    """What is written where: all of it plain text."""

    title: str
    number: str
    facts: tuple[tuple[str, str], ...]
    seller: tuple[str, ...]
    buyer: tuple[str, ...]
    rows: tuple[SheetRow, ...]
    sums: tuple[SheetSum, ...]
    notes: tuple[str, ...]
    shows_quantities: bool
    shows_tax: bool


def title_of(content: Content) -> str:
    """What it is called, without its number."""
    if content.kind == "receipt":
        return "Receipt"
    return "Credit note" if content.kind == "correction" else _INVOICES[content.of]


def sheet_of(content: Content) -> Sheet:
    shows_tax = bool(content.tax_lines)
    return Sheet(
        title=title_of(content),
        number=content.number,
        facts=tuple(_facts(content)),
        seller=tuple(_party(content.seller, "Tax number")),
        buyer=tuple(_party(content.buyer, "Tax number")),
        rows=tuple(_row(line, content) for line in content.lines),
        sums=tuple(_sums(content)),
        notes=tuple(_notes(content)),
        shows_quantities=content.shows_quantities,
        shows_tax=shows_tax,
    )


def day_words(day: date, locale: str) -> str:
    """Such as ``29 Nov 2026``, or ``29.11.2026`` where people of the locale write it so."""
    if Locale.parse(locale).language == "en":
        return f"{day.day} {day:%b %Y}"
    return str(format_date(day, "medium", locale=locale))


def percent_words(row: TaxLine, locale: str) -> str:
    return f"{format_decimal(Decimal(row.percent.text), format='0.####', locale=locale)} %"


def _facts(content: Content) -> Iterator[tuple[str, str]]:
    yield "Date", day_words(content.issued_on, content.locale)
    if content.kind == "invoice":
        yield "Supplied", day_words(content.supplied_on, content.locale)
    yield "For", content.order
    yield "Reference", content.reference
    if content.corrects:
        yield "Corrects", _reference_words(content.corrects, content.locale)
    yield from content.fields


def _reference_words(reference: Reference, locale: str) -> str:
    return f"{reference.number} of {day_words(reference.on, locale)}"


def _party(party: Party, number_words: str) -> Iterator[str]:
    if party.company:
        yield party.company
    if party.name:
        yield party.name
    yield from party.street
    town = " ".join(filter(None, (party.postcode, party.town)))
    yield from filter(None, (town, party.region))
    if party.country and (party.street or party.town):
        yield country_words(party.country)
    if party.tax_number:
        yield f"{number_words} {party.tax_number}"
    if party.email:
        yield party.email


def _row(line: DocumentLine, content: Content) -> SheetRow:
    locale = content.locale
    words = ", ".join((line.name, *line.options)) if line.kind == "line" else _NAMES[line.kind]
    if content.of == "prepayment" and line.kind == "line":
        words = f"Prepayment: {words}"
    shows_quantity = content.shows_quantities and line.kind == "line"
    return SheetRow(
        quantity=f"{line.quantity:,}" if shows_quantity else "",
        words=words,
        detail=", ".join(_detail(line, content)),
        net=format_money(line.net, locale),
        rate=" + ".join(percent_words(row, locale) for row in line.taxes) or "–",
        total=format_money(line.total, locale),
    )


def _detail(line: DocumentLine, content: Content) -> Iterator[str]:
    each, left = divmod(line.amount.minor, line.quantity)
    if content.shows_quantities and line.quantity > 1 and not left and content.kind != "correction":
        unit = format_money(Money(each, line.amount.currency), content.locale)
        yield f"{line.quantity:,} × {unit}"
    if line.discount:
        yield f"less {format_money(line.discount, content.locale)} of discount"


def _sums(content: Content) -> Iterator[SheetSum]:
    locale = content.locale
    if content.tax_lines:
        net = sum((line.net for line in content.lines), Money(0, content.currency))
        yield SheetSum("Net", format_money(net, locale))
        for row in content.tax_lines:
            base = format_money(row.base, locale)
            yield SheetSum(f"{row.name} {percent_words(row, locale)} on {base}", format_money(row.amount, locale))
    total_words = "Credited" if content.kind == "correction" else "Total"
    yield SheetSum(total_words, format_money_clearly(content.total, locale), is_main=True)
    for each in content.deducted:
        if each.total:
            tax = sum((row.amount for row in each.tax_lines), Money(0, content.currency))
            within = f", with {format_money(tax, locale)} of tax" if tax else ""
            words = f"Less prepayment invoice {_reference_words(each, locale)}{within}"
            yield SheetSum(words, format_money(-each.total, locale))
    for paid in content.paid:
        verb = "Refunded" if content.kind == "correction" else "Paid"
        words = f"{verb} on {day_words(paid.on, locale)}, {paid.how[:1].lower()}{paid.how[1:]}"
        yield SheetSum(words, format_money(paid.amount, locale))
    if content.kind == "invoice" and content.to_pay:
        yield SheetSum("Still to pay", format_money_clearly(content.to_pay, locale), is_main=True)


def _notes(content: Content) -> Iterator[str]:
    if content.rehearsal:
        yield REHEARSED
    if content.why:
        yield f"Reason: {content.why}"
    if content.is_reversed:
        yield REVERSED
    if content.note:
        yield content.note
