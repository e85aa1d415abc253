"""What stands in the documents of an order, put together from what was kept of it. Nothing is worked out anew.

A number, and what other documents it speaks of, it gets when it is issued.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from cravik.core.documents.issued import read_content
from cravik.core.documents.quote import kept_payments
from cravik.core.invoicing.content import Content, Kind, Of, Paid, Reference
from cravik.core.invoicing.lines import lines_of_payment, lines_of_refund
from cravik.core.pricing.portion import together
from cravik.core.pricing.refunds import rows_of_refund
from cravik.core.pricing.rows import PaymentRows
from cravik.orders.charges import Charge, named_lines, shares_of
from cravik.orders.invoicing.parties import buyer_party, seller_party
from cravik.orders.models import IssuedDocument, Order
from cravik.orders.settings import settings_of
from cravik.payments.models import Refund
from cravik.payments.ways import paid_with_words


def receipt_of(order: Order, charge: Charge, now: datetime) -> Content:
    return _of_payment(order, "receipt", _of(order), charge.rows, [charge], now)


def invoice_of(order: Order, charges: Sequence[Charge], of: Of, now: datetime) -> Content:
    """The invoice ``of`` what the last of the charges paid, or of all that was bought."""
    is_all = of in ("whole", "final")
    rows = together(kept_payments(order.checkout.line.quote_document, order.made_at.date())) if is_all else None
    return _of_payment(order, "invoice", of, rows or charges[-1].rows, charges if of == "whole" else charges[-1:], now)


def correction_of(order: Order, charge: Charge, refund: Refund, now: datetime) -> Content:
    """The credit note for a refund that went back, after those that went back before it."""
    done = charge.done
    place = [each.pk for each in done].index(refund.pk)
    shares = shares_of(charge.rows, done[: place + 1])
    rows = rows_of_refund(charge.rows, shares[:-1], shares[-1])
    back = Paid(_day(order, refund.answered_at or now), paid_with_words(charge.attempt), refund.amount)
    return Content(
        **_common(order, "correction", "whole", now),
        supplied_on=back.on,
        lines=lines_of_refund(named_lines(order, (each.key for each in rows.lines)), rows, refund.pieces),
        tax_lines=tuple(row for row in rows.tax_lines if row.base or row.amount),
        total=rows.total,
        paid=(back,),
        why=refund.why,
    )


def _of_payment(
    order: Order,
    kind: Kind,
    of: Of,
    rows: PaymentRows,
    charges: Sequence[Charge],
    now: datetime,
) -> Content:
    paid = tuple(
        Paid(_day(order, each.attempt.answered_at or now), paid_with_words(each.attempt), each.attempt.amount)
        for each in charges
    )
    return Content(
        **_common(order, kind, of, now),
        supplied_on=paid[-1].on,
        lines=lines_of_payment(named_lines(order, (each.key for each in rows.lines)), rows),
        tax_lines=tuple(row for row in rows.tax_lines if row.base or row.amount),
        total=rows.total,
        paid=paid,
    )


def _common(order: Order, kind: Kind, of: Of, now: datetime) -> dict[str, Any]:
    settings, checkout = settings_of(order.business_id), order.checkout
    return {
        "kind": kind,
        "of": of,
        "number": "",
        "issued_on": _day(order, now),
        "order": str(order).capitalize(),
        "reference": checkout.reference,
        "seller": seller_party(order.business),
        "buyer": buyer_party(order),
        "currency": order.currency,
        "is_reversed": bool(checkout.where.get("tax_number_of")) and not checkout.quote.tax,
        "note": settings.note,
        "fields": tuple((label, value) for label, value in settings.fields),
        "shows_quantities": settings.shows_quantities,
        "locale": checkout.number_locale,
        "rehearsal": order.rehearsal,
    }


def _of(order: Order) -> Of:
    return "period" if order.checkout.line.is_paid_over_time else "whole"


def _day(order: Order, at: datetime) -> date:
    return at.astimezone(ZoneInfo(order.business.time_zone)).date()


def reference_to(document: IssuedDocument) -> Reference:
    """How another document speaks of it."""
    content = read_content(document.content)
    return Reference(document.label, content.issued_on, content.total, content.tax_lines)
