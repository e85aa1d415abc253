"""An accountant's journal of orders: a row for each movement of money, its fee, and each tax in it.

Payments and refunds add up to the ledger, fees and what came back of them to what the processor kept, and tax to what
is owed. Amounts that leave the seller are below zero; days are the seller's.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import datetime
from itertools import islice
from zoneinfo import ZoneInfo

from django.http import StreamingHttpResponse

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.refunds import rows_of_refund
from cravik.orders.charges import Charge, charges_of_each, shares_of
from cravik.orders.models import IssuedDocument, Order, OrderQuerySet
from cravik.payments.ways import paid_with_words
from cravik.ui.spreadsheets import as_text, csv_response

_AT_ONCE = 200
HEAD = ["day", "at", "order", "reference", "kind", "what", "on", "amount", "currency"]
HEAD += ["document", "invoice", "buyer", "country", "paid_with", "processor_reference"]


def as_journal(orders: OrderQuerySet, zone: ZoneInfo) -> StreamingHttpResponse:
    """The movements of the orders as CSV, streamed; an order's stand together, in the order of the orders."""
    return csv_response("journal.csv", HEAD, _rows(orders, zone))


def _rows(orders: OrderQuerySet, zone: ZoneInfo) -> Iterator[list[object]]:
    whole = orders.select_related("checkout").prefetch_related("checkout__lines").iterator(chunk_size=_AT_ONCE)
    while batch := list(islice(whole, _AT_ONCE)):
        charges = charges_of_each(batch)
        documents = _documents(batch)
        for order in batch:
            for charge in charges[order.pk]:
                yield from _of_charge(order, charge, documents, zone)


def _of_charge(
    order: Order, charge: Charge, documents: dict[tuple[str, int], str], zone: ZoneInfo
) -> Iterator[list[object]]:
    attempt, rows = charge.attempt, charge.rows

    def row(
        at: datetime | None, kind: str, what: str, amount: Money, on: Money | None, names: Sequence[str]
    ) -> list[object]:
        local = (at or order.made_at).astimezone(zone)
        money = [on.major if on is not None else "", amount.major, amount.currency]
        head = [local.date().isoformat(), local.isoformat(timespec="seconds"), order.number, order.checkout.reference]
        buyer = [as_text(order.buyer_name), order.country, paid_with_words(attempt)]
        return [*head, kind, as_text(what), *money, *names[:2], *buyer, names[2]]

    def taxes(at: datetime | None, lines: Sequence[TaxLine], sign: int, names: Sequence[str]) -> Iterator[list[object]]:
        for line in lines:
            if line.base or line.amount:
                signed = [each if sign > 0 else -each for each in (line.amount, line.base)]
                yield row(at, "tax", f"{line.name} {line.percent.text} %", signed[0], signed[1], names)

    names = [documents.get(("receipt", attempt.pk), ""), documents.get(("invoice", attempt.pk), "")]
    names.append(attempt.gateway_reference)
    yield row(attempt.answered_at, "payment", order.title, attempt.amount, None, names)
    if rows.fee:
        yield row(attempt.answered_at, "fee", "The processor's fee", -rows.fee, None, names)
    yield from taxes(attempt.answered_at, rows.tax_lines, 1, names)
    shares = shares_of(rows, charge.done)
    for place, refund in enumerate(charge.done):
        named = [documents.get(("correction", refund.pk), ""), names[1], refund.gateway_reference]
        yield row(refund.answered_at, "refund", refund.why or order.title, -refund.amount, None, named)
        if refund.fee_minor:
            fee = Money(refund.fee_minor, refund.currency)
            yield row(refund.answered_at, "fee", "Fee that came back", fee, None, named)
        back = rows_of_refund(rows, shares[:place], shares[place])
        yield from taxes(refund.answered_at, back.tax_lines, -1, named)


def _documents(orders: Sequence[Order]) -> dict[tuple[str, int], str]:
    """The numbers of the orders' documents, by kind and the attempt or refund that they are of."""
    found = IssuedDocument.objects.filter(order__in=orders).select_related("movement").defer("content")
    return {(each.kind, each.movement.attempt_id or each.movement.refund_id or 0): each.label for each in found}
