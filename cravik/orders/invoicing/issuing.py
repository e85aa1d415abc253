"""Documents are made of what the ledger says: for every charge a receipt, an invoice where one is due, and for every
refund a credit note.

They are made one movement after the other in the order of the ledger, and how far that has come is written down in the
same transaction: so however often it is asked for, and whatever is cut off, each is made once and no number is missing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import datetime
from zoneinfo import ZoneInfo

import structlog
from django.db import transaction

from cravik.core.documents.issued import write_content
from cravik.core.invoicing.content import Content, Of
from cravik.core.invoicing.numbers import label_of
from cravik.core.pricing.schedule import DepositPlan, InstalmentsPlan
from cravik.core.text.schedule_words import plan_picked
from cravik.events.writing import write
from cravik.links.life.shown_version import shown_version
from cravik.orders.charges import Charge, charges_with_rows
from cravik.orders.happened import DocumentIssued, about
from cravik.orders.invoicing.composing import correction_of, invoice_of, receipt_of
from cravik.orders.invoicing.parties import asked_for_invoice
from cravik.orders.invoicing.series import take_number
from cravik.orders.models import DocumentDesk, DocumentKind, IssuedDocument, Order, OrderSettings
from cravik.orders.settings import settings_of
from cravik.payments.models import Movement
from cravik.people.actors import CLOCK

_BATCH = 20

logger = structlog.stdlib.get_logger("cravik.documents")


def issue_what_is_due(now: datetime) -> int:
    """Make the documents of every movement that has none yet, and return of how many there were."""
    count = 0
    while made := _issue_batch(now):
        count += made
    return count


@transaction.atomic
def _issue_batch(now: datetime) -> int:
    desk = _desk()
    movements = list(Movement.objects.filter(id__gt=desk.last_movement_id).order_by("id")[:_BATCH])
    if not movements:
        return 0
    DocumentDesk.objects.filter(id=desk.pk).update(last_movement_id=movements[-1].pk)
    for movement in movements:
        try:
            with transaction.atomic():
                _issue(movement, now)
        except Exception as trouble:  # whatever is odd about one order is no other's business
            logger.exception("no document could be made", movement=movement.pk, trouble=type(trouble).__name__)
    return len(movements)


@transaction.atomic
def issue_for_order(order: Order, now: datetime) -> list[IssuedDocument]:
    """Make whatever documents the order lacks, such as an invoice that is asked for later, and return all it has."""
    _desk()
    for movement in Movement.objects.filter(checkout=order.checkout_id).order_by("id"):
        _issue(movement, now)
    return list(IssuedDocument.objects.filter(order=order))


def _desk() -> DocumentDesk:
    desk, _ = DocumentDesk.objects.select_for_update().get_or_create(id=1)
    return desk


def _issue(movement: Movement, now: datetime) -> None:
    related = ("business", "checkout")
    order = Order.objects.select_related(*related).filter(checkout=movement.checkout_id).first()
    if order is None:  # a charge that no order was made of: it goes back
        return
    there = {(each.movement_id, each.kind): each for each in IssuedDocument.objects.filter(order=order)}
    charges = charges_with_rows(order)
    if movement.kind == Movement.Kind.REFUND:
        if (movement.pk, DocumentKind.CORRECTION) not in there:
            _correct(order, charges, movement, list(there.values()), now)
        return
    place = next(place for place, charge in enumerate(charges) if charge.attempt.pk == movement.attempt_id)
    if (movement.pk, DocumentKind.RECEIPT) not in there:
        desk = _Desk(order, movement, now)
        desk.issue(DocumentKind.RECEIPT, lambda number: receipt_of(order, charges[place], number, now))
    if (movement.pk, DocumentKind.INVOICE) not in there and is_to_be_invoiced(order, settings_of(order.business_id)):
        _invoice(order, charges[: place + 1], movement, list(there.values()), now)


def is_to_be_invoiced(order: Order, settings: OrderSettings) -> bool:
    """Whether the seller gives an invoice for the order."""
    match settings.invoices:
        case OrderSettings.Invoices.ALWAYS:
            return True
        case OrderSettings.Invoices.NEVER:
            return False
        case _:
            return asked_for_invoice(order)


def _invoice(
    order: Order, charges: list[Charge], movement: Movement, there: list[IssuedDocument], now: datetime
) -> None:
    """The invoice that the last of the charges brings about, if it does."""
    invoices = [each for each in there if each.kind == DocumentKind.INVOICE]
    of = _what_of(order, charges)
    if of == "whole" and invoices:
        return
    deducted = invoices if of == "final" else []
    desk = _Desk(order, movement, now)
    desk.issue(DocumentKind.INVOICE, lambda number: invoice_of(order, charges, of, number, now, deducted))


def _what_of(order: Order, charges: list[Charge]) -> Of:
    line = order.checkout.line
    if not line.is_paid_over_time:
        return "whole"
    plan = plan_picked(shown_version(line.version_id).content.offer.plan, line.basket_document.get("plan"))
    if isinstance(plan, InstalmentsPlan):
        return "whole"
    if isinstance(plan, DepositPlan):
        paid = sum(charge.attempt.amount_minor for charge in charges)
        return "final" if paid == order.checkout.total_minor else "prepayment"
    return "period"


def _correct(
    order: Order, charges: list[Charge], movement: Movement, there: list[IssuedDocument], now: datetime
) -> None:
    refund, charge = next(
        (refund, charge) for charge in charges for refund in charge.refunds if refund.pk == movement.refund_id
    )
    corrected = _corrected(there, movement)
    desk = _Desk(order, movement, now)
    desk.issue(
        DocumentKind.CORRECTION,
        lambda number: correction_of(order, charge, refund, corrected, number, now),
        corrected,
    )


def _corrected(there: list[IssuedDocument], movement: Movement) -> IssuedDocument | None:
    """What a refund corrects: the charge's own invoice, else the order's last, else the charge's receipt."""

    def choices() -> Iterator[IssuedDocument]:
        invoices = [each for each in there if each.kind == DocumentKind.INVOICE]
        yield from (each for each in invoices if each.movement_id == movement.undoes_id)
        yield from reversed(invoices)
        receipts = (each for each in there if each.kind == DocumentKind.RECEIPT)
        yield from (each for each in receipts if each.movement_id == movement.undoes_id)

    return next(choices(), None)


class _Desk:
    """Where a document of one movement is numbered and written down."""

    def __init__(self, order: Order, movement: Movement, now: datetime) -> None:
        self.order, self.movement, self.now = order, movement, now

    def issue(
        self, kind: DocumentKind, compose: Callable[[str], Content], corrected: IssuedDocument | None = None
    ) -> None:
        order = self.order
        year = self.now.astimezone(ZoneInfo(order.business.time_zone)).year
        stem, number = take_number(order.business_id, kind, year, rehearsal=order.rehearsal)
        content = compose(label_of(stem, number))
        document = IssuedDocument.objects.create(
            business_id=order.business_id,
            order=order,
            kind=kind,
            rehearsal=order.rehearsal,
            stem=stem,
            number=number,
            movement=self.movement,
            corrects=corrected,
            currency=order.currency,
            total_minor=content.left.minor,
            tax_minor=content.tax.minor,
            content=write_content(content),
            issued_at=self.now,
        )
        write(DocumentIssued(str(document)), about(order), self.now, CLOCK)
