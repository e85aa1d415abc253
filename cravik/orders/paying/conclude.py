"""The answer of the gateway, written down: an approval becomes an order, anything else gives back what was held."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from functools import partial

import structlog
from django.db import transaction
from django.db.models import F, QuerySet
from structlog.contextvars import get_contextvars

from cravik.buyers.services import buyer_who_orders
from cravik.catalogue.stock import newly_low
from cravik.checkout.models import Checkout, CheckoutLine
from cravik.core.link.closing import is_used_up
from cravik.core.statistics.ladder import Rung
from cravik.events.writing import write
from cravik.journal.models import LeftOut
from cravik.journal.services import Met, climb, count_after_all
from cravik.links.counting import paid_of
from cravik.links.effective import effective_edition, published_content
from cravik.links.lifecycle import end_by_count
from cravik.mailroom.services import queue_letters
from cravik.orders.downloads import open_downloads
from cravik.orders.happened import DuePaid, OrderMade, about
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.letters import letters_about_stock
from cravik.orders.models import Order, OrderBook
from cravik.payments.dues import mark_paid
from cravik.payments.gateway import Answer, Approved, CheckWanted, Decided, Gateway, Undecided
from cravik.payments.holding import confirm_all, release_all
from cravik.payments.models import Attempt, Hold
from cravik.payments.services import call_off_attempt, charge_moved, leave_open, record_answer, wait_for_check
from cravik.people.actors import BUYER
from cravik.upkeep.prepared import Param, PreparedSelect, PreparedUpdate, insert
from cravik.upkeep.queue import enqueue_once

logger = structlog.stdlib.get_logger("cravik.payments")


def record(attempt: Attempt, answer: Answer, now: datetime, holds: Sequence[Hold] | None = None) -> bool:
    """Write down what the gateway said, and whether that was the attempt's end."""
    match answer:
        case CheckWanted(address):
            wait_for_check(attempt, address, now)
            return False
        case Undecided():
            leave_open(attempt, now)
            return False
    conclude(attempt, answer, now, holds)
    return True


def call_off(attempt: Attempt, gateway: Gateway, now: datetime) -> bool:
    """Let nothing more come of a pending attempt, unless it was decided meanwhile; whether it came to its end."""
    answer = call_off_attempt(gateway, attempt)
    if answer is not None:
        conclude(attempt, answer, now)
    return answer is not None


@transaction.atomic
def conclude(attempt: Attempt, answer: Decided, now: datetime, holds: Sequence[Hold] | None = None) -> None:
    """Record the answer; an approval becomes an order, in the same transaction. Safe to repeat.

    ``holds`` are what the press has just taken, where that is known; else they are looked up.
    """
    if not record_answer(attempt, answer, now):
        attempt.refresh_from_db()
        return
    checkout = attempt.due.checkout
    if not isinstance(answer, Approved):
        release_all(checkout.pk)
        if checkout.visit_id:
            climb(checkout.visit_id, checkout.line.link_id, Rung.TRIED, now, checkout.line.code_id)
        _log_when_kept("not paid", state=attempt.state, reason=attempt.reason)
        return
    insert(charge_moved(attempt, checkout, checkout.line, now))
    mark_paid(attempt.due, now)
    order = make_order(checkout, now, holds)
    paid = DuePaid(attempt.amount_minor, attempt.currency, attempt.due.position)
    write(paid, about(order), now, BUYER)
    _log_when_kept("paid", order=order.number, business=order.business_id, rehearsal=order.rehearsal)


def _log_when_kept(event: str, **about: object) -> None:
    """What is bound to the line is bound now: by the commit another attempt may be under way."""
    transaction.on_commit(partial(logger.bind(**get_contextvars(), **about).info, event))


def make_order(checkout: Checkout, now: datetime, holds: Sequence[Hold] | None = None) -> Order:
    """The order of a checkout whose first due is paid: what was held is the buyer's. In the transaction under way."""
    line = checkout.line
    order = new_order(checkout, line, _next_number(checkout), now)
    if not order.rehearsal:
        key, email, name = checkout.buyer_key, checkout.buyer_email, checkout.buyer_name
        order.buyer_id = buyer_who_orders(checkout.business_id, key, email, name, now)
    insert(order)
    write(OrderMade(order.number), about(order), now, BUYER)
    terms = effective_edition(line.edition_id)
    bought = {each["key"] for each in line.quote_document["lines"]}
    open_downloads(order, {item for key, item in terms.items.items() if key in bought}, now)
    if not checkout.rehearsal:
        kept = confirm_all(checkout.pk, now, holds)
        if terms.content.limits.counts:  # what is published since then may count too: the clock sees to that
            _end_if_all_are_taken(line.link_id, now)
        for variant in kept.variants:
            if low := newly_low(variant):
                queue_letters(checkout.business, letters_about_stock(low, checkout), now)
    if checkout.visit_id:
        climb(checkout.visit_id, line.link_id, Rung.PAID, now, line.code_id)
    elif not checkout.rehearsal and checkout.left_out != LeftOut.Reason.OWN:
        met = Met(checkout.business_id, line.link_id, line.spot_id, line.edition_id)
        opened_at, code_id = checkout.opened_at or checkout.made_at, line.code_id
        checkout.visit_id = count_after_all(met, checkout.visitor, checkout.left_out, opened_at, now, code_id)
        checkout.save(update_fields=["visit_id"])
    enqueue_once(write_due_letters)
    return order


def new_order(checkout: Checkout, line: CheckoutLine, number: int, paid_at: datetime) -> Order:
    """The order that a paid checkout becomes, not saved yet."""
    return Order(
        business_id=checkout.business_id,
        checkout=checkout,
        link_id=line.link_id,
        edition_id=line.edition_id,
        spot_id=line.spot_id,
        number=number,
        rehearsal=checkout.rehearsal,
        buyer_name=checkout.buyer_name,
        buyer_email=checkout.buyer_email,
        title=line.title,
        code_id=line.code_id,
        currency=checkout.currency,
        paid_at=paid_at,
    )


def _end_if_all_are_taken(link_id: int, now: datetime) -> None:
    """End the link if it has as many orders, or pieces, as what is published of it now allows."""
    if is_used_up(published_content(link_id), paid_of(link_id)):
        end_by_count(link_id, now, by=BUYER)


def _next_number(checkout: Checkout) -> int:
    """The next number of the business's book, without gaps: counting up locks the row until the order is made."""
    count, read = _NUMBERS["last_rehearsal" if checkout.rehearsal else "last_number"]
    business = checkout.business_id
    if not count.run(business=business):
        OrderBook.objects.get_or_create(business_id=business)
        count.run(business=business)
    return int(read.rows(business=business)[0][0])


def _book() -> QuerySet[OrderBook]:
    return OrderBook.objects.filter(business_id=Param("business"))


_NUMBERS = {
    "last_number": (
        PreparedUpdate(_book, last_number=F("last_number") + 1),
        PreparedSelect(lambda: _book().values_list("last_number")),
    ),
    "last_rehearsal": (
        PreparedUpdate(_book, last_rehearsal=F("last_rehearsal") + 1),
        PreparedSelect(lambda: _book().values_list("last_rehearsal")),
    ),
}
