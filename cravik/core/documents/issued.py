"""Receipts, invoices and credit notes as they are kept: ``cravik.document/1``, amounts as in a quote's document."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from cravik.core.documents.rows import read_tax_lines, write_tax_lines
from cravik.core.invoicing.content import Content, DocumentLine, Paid, Party, Reference
from cravik.core.pricing.money import Money

FORMAT = "cravik.document/1"
_TEXTS = ("kind", "of", "number", "order", "reference", "currency", "why", "note", "locale")
_FLAGS = ("is_reversed", "shows_quantities", "rehearsal")


def write_content(content: Content) -> dict[str, Any]:
    return {
        "format": FORMAT,
        **{name: getattr(content, name) for name in (*_TEXTS, *_FLAGS)},
        "issued_on": content.issued_on.isoformat(),
        "supplied_on": content.supplied_on.isoformat(),
        "seller": _write_party(content.seller),
        "buyer": _write_party(content.buyer),
        "lines": [
            {
                "kind": line.kind,
                "name": line.name,
                "options": list(line.options),
                "quantity": line.quantity,
                "amount": line.amount.major,
                "discount": line.discount.major,
                "total": line.total.major,
                "taxes": write_tax_lines(line.taxes),
            }
            for line in content.lines
        ],
        "tax_lines": write_tax_lines(content.tax_lines),
        "total": content.total.major,
        "paid": [{"on": each.on.isoformat(), "how": each.how, "amount": each.amount.major} for each in content.paid],
        "deducted": [_write_reference(each) for each in content.deducted],
        "corrects": _write_reference(content.corrects) if content.corrects else None,
        "fields": [list(each) for each in content.fields],
    }


def read_content(document: Mapping[str, Any]) -> Content:
    """What ``write_content`` wrote."""
    currency = document["currency"]

    def money(text: str) -> Money:
        return Money.parse(text, currency)

    return Content(
        **{name: document[name] for name in (*_TEXTS, *_FLAGS)},
        issued_on=date.fromisoformat(document["issued_on"]),
        supplied_on=date.fromisoformat(document["supplied_on"]),
        seller=_read_party(document["seller"]),
        buyer=_read_party(document["buyer"]),
        lines=tuple(
            DocumentLine(
                kind=line["kind"],
                name=line["name"],
                options=tuple(line["options"]),
                quantity=line["quantity"],
                amount=money(line["amount"]),
                discount=money(line["discount"]),
                total=money(line["total"]),
                taxes=read_tax_lines(line["taxes"], currency),
            )
            for line in document["lines"]
        ),
        tax_lines=read_tax_lines(document["tax_lines"], currency),
        total=money(document["total"]),
        paid=tuple(
            Paid(date.fromisoformat(each["on"]), each["how"], money(each["amount"])) for each in document["paid"]
        ),
        deducted=tuple(_read_reference(each, currency) for each in document["deducted"]),
        corrects=_read_reference(document["corrects"], currency) if document["corrects"] else None,
        fields=tuple((label, value) for label, value in document["fields"]),
    )


def _write_party(party: Party) -> dict[str, Any]:
    names = ("name", "company", "postcode", "town", "region", "country", "tax_number", "email")
    return {name: getattr(party, name) for name in names} | {"street": list(party.street)}


def _read_party(document: Mapping[str, Any]) -> Party:
    return Party(**{**document, "street": tuple(document["street"])})


def _write_reference(each: Reference) -> dict[str, Any]:
    total = {"total": each.total.major} if each.total else {}
    return {"number": each.number, "on": each.on.isoformat(), "tax_lines": write_tax_lines(each.tax_lines)} | total


def _read_reference(document: Mapping[str, Any], currency: str) -> Reference:
    total = Money.parse(document["total"], currency) if "total" in document else None
    taxes = read_tax_lines(document["tax_lines"], currency)
    return Reference(document["number"], date.fromisoformat(document["on"]), total, taxes)
