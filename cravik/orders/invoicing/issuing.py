"""Documents are made of what the ledger says: for every charge a receipt, an invoice where one is due, and for every
refund a credit note.

They are made one movement after the other in the order of the ledger, and how far that has come is written down in the
same transaction: so however often it is asked for, and whatever is cut off, each is made once and no number is missing.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
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
from cravik.mailroom.services import queue_letters
from cravik.orders.charges import Charge, charges_of_each
from cravik.orders.happened import DocumentIssued, about
from cravik.orders.invoicing.composing import correction_of, invoice_of, receipt_of, reference_to
from cravik.orders.invoicing.parties import asked_for_invoice
from cravik.orders.invoicing.series import take_number
from cravik.orders.models import DocumentDesk, DocumentKind, IssuedDocument, Order, OrderSettings
from cravik.orders.over_time_letters import letter_of_later_payment
from cravik.orders.settings import settings_of
from cravik.payments.models import Allocation, Movement
from cravik.people.actors import CLOCK

_BATCH = 10

logger = structlog.stdlib.get_logger("cravik.documents")


def issue_what_is_due(now: datetime) -> int:
    """Make the documents of every movement that has none yet, and return of how many there were."""
    count = 0
    while made := _issue_batch(now):
        count += made
    return count


def _issue_batch(now: datetime) -> int:
    desk, _ = DocumentDesk.objects.get_or_create(id=1)
    movements = list(Movement.objects.filter(id__gt=desk.last_movement_id).order_by("id")[:_BATCH])
    if not movements:
        return 0
    drafts = _drafts(movements, now)  # put together before the write lock is held
    with transaction.atomic():
        as_read = DocumentDesk.objects.filter(id=desk.pk, last_movement_id=desk.last_movement_id)
        if as_read.update(last_movement_id=movements[-1].pk):  # else somebody else makes them
            for draft in drafts:
                with _apart(draft.movement), transaction.atomic():
                    _write(draft, now)
            _tell_of_later_payments({draft.movement: draft.order for draft in drafts}, now)
    return len(movements)


def issue_and_tell(order: Order, now: datetime) -> None:
    """Make whatever documents the order lacks, and tell its buyer of every payment after the first."""
    issue_for_order(order, now)
    _tell_of_later_payments(dict.fromkeys(Movement.objects.filter(checkout=order.checkout_id), order), now)


def _tell_of_later_payments(orders: Mapping[Movement, Order], now: datetime) -> None:
    """The buyer gets each document of a payment after the first by letter, once; those of the first go with its
    receipt."""
    charges = [movement for movement in orders if movement.kind == Movement.Kind.CHARGE]
    later = Allocation.objects.filter(attempt__in=[each.attempt_id for each in charges], due__position__gt=0)
    attempts = set(later.values_list("attempt_id", flat=True)) if charges else set()
    for movement in charges:
        if movement.attempt_id in attempts:
            with _apart(movement), transaction.atomic():
                documents = list(IssuedDocument.objects.filter(movement=movement))
                order = orders[movement]
                queue_letters(order.business, [letter_of_later_payment(order, movement, documents)], now)


def issue_for_order(order: Order, now: datetime) -> list[IssuedDocument]:
    """Make whatever documents the order lacks, such as an invoice that is asked for later, and return all it has."""
    drafts = _drafts(list(Movement.objects.filter(checkout=order.checkout_id).order_by("id")), now)
    with transaction.atomic():
        DocumentDesk.objects.select_for_update().get_or_create(id=1)
        for draft in drafts:
            _write(draft, now)
    return list(IssuedDocument.objects.filter(order=order))


@contextmanager
def _apart(movement: Movement) -> Iterator[None]:
    """Whatever is odd about one order's document is written down, and is no other order's business."""
    try:
        yield
    except Exception as trouble:  # a row, a name, a sum: nobody can say which beforehand
        logger.exception("no document could be made", movement=movement.pk, trouble=type(trouble).__name__)


@dataclass(frozen=True)
class _Draft:
    """A document of a movement, whole but for its number, and for what other documents it speaks of."""

    order: Order
    movement: Movement
    kind: DocumentKind
    content: Content


def _drafts(movements: Sequence[Movement], now: datetime) -> list[_Draft]:
    """Every document that the movements may bring about, in their order."""
    orders = Order.objects.select_related("business", "checkout", "link").prefetch_related("checkout__lines")
    by_checkout = {
        order.checkout_id: order for order in orders.filter(checkout__in={each.checkout_id for each in movements})
    }
    charges = charges_of_each(list(by_checkout.values()))
    drafts = []
    for movement in movements:
        order = by_checkout.get(movement.checkout_id)
        if order is not None:  # else a charge that no order was made of: it goes back
            with _apart(movement):
                drafts += list(_drafts_of(order, charges[order.pk], movement, now))
    return drafts


def _drafts_of(order: Order, charges: list[Charge], movement: Movement, now: datetime) -> Iterator[_Draft]:
    if movement.kind == Movement.Kind.REFUND:
        charge = next(each for each in charges if movement.refund_id in [refund.pk for refund in each.refunds])
        refund = next(each for each in charge.refunds if each.pk == movement.refund_id)
        yield _Draft(order, movement, DocumentKind.CORRECTION, correction_of(order, charge, refund, now))
        return
    place = next(place for place, charge in enumerate(charges) if charge.attempt.pk == movement.attempt_id)
    yield _Draft(order, movement, DocumentKind.RECEIPT, receipt_of(order, charges[place], now))
    if is_to_be_invoiced(order, settings_of(order.business_id)):
        until_now = charges[: place + 1]
        invoice = invoice_of(order, until_now, _what_of(order, until_now), now)
        yield _Draft(order, movement, DocumentKind.INVOICE, invoice)


def is_to_be_invoiced(order: Order, settings: OrderSettings) -> bool:
    """Whether the seller gives an invoice for the order."""
    match settings.invoices:
        case OrderSettings.Invoices.ALWAYS:
            return True
        case OrderSettings.Invoices.NEVER:
            return False
        case _:
            return asked_for_invoice(order)


def _what_of(order: Order, charges: list[Charge]) -> Of:
    """What the invoice is of that the last of the charges brings about."""
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


def _write(draft: _Draft, now: datetime) -> None:
    """Number the document and write it down, unless it is there. In the transaction under way."""
    order, content = draft.order, draft.content
    there = list(IssuedDocument.objects.filter(order=order))
    invoices = [each for each in there if each.kind == DocumentKind.INVOICE]
    if any((each.movement_id, each.kind) == (draft.movement.pk, draft.kind) for each in there):
        return
    corrected = None
    if draft.kind == DocumentKind.INVOICE:
        if content.of == "whole" and invoices:
            return
        if content.of == "final":
            content = replace(content, deducted=tuple(map(reference_to, invoices)))
    elif draft.kind == DocumentKind.CORRECTION and (corrected := _corrected(there, draft.movement)):
        content = replace(content, corrects=reference_to(corrected))
    year = now.astimezone(ZoneInfo(order.business.time_zone)).year
    stem, number = take_number(order.business_id, draft.kind, year, rehearsal=order.rehearsal)
    content = replace(content, number=label_of(stem, number))
    document = IssuedDocument.objects.create(
        business_id=order.business_id,
        order=order,
        kind=draft.kind,
        rehearsal=order.rehearsal,
        stem=stem,
        number=number,
        movement=draft.movement,
        corrects=corrected,
        currency=order.currency,
        total_minor=content.left.minor,
        tax_minor=content.tax.minor,
        content=write_content(content),
        issued_at=now,
    )
    write(DocumentIssued(str(document)), about(order), now, CLOCK)


def _corrected(there: list[IssuedDocument], movement: Movement) -> IssuedDocument | None:
    """What a refund corrects: the charge's own invoice, else the order's last, else the charge's receipt."""

    def choices() -> Iterator[IssuedDocument]:
        invoices = [each for each in there if each.kind == DocumentKind.INVOICE]
        yield from (each for each in invoices if each.movement_id == movement.undoes_id)
        yield from reversed(invoices)
        receipts = (each for each in there if each.kind == DocumentKind.RECEIPT)
        yield from (each for each in receipts if each.movement_id == movement.undoes_id)

    return next(choices(), None)
