"""Dues of an order are paid. With the first of them the order counts, and what was held is the buyer's."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from cravik.catalogue.stock import newly_low
from cravik.checkout.models import Checkout
from cravik.core.link.closing import is_used_up
from cravik.core.statistics.ladder import Rung
from cravik.events.writing import write_all
from cravik.journal.models import LeftOut
from cravik.journal.services import VisitedPage, climb, count_paid_visit
from cravik.links.life.counting import paid_of
from cravik.links.life.lifecycle import end_by_count
from cravik.links.life.shown_version import published_content, shown_version
from cravik.mailroom.services import queue_letters
from cravik.orders.acts.plan_paused import resume
from cravik.orders.acts.stock_again import take_stock_again
from cravik.orders.clock import day_of
from cravik.orders.downloads import open_again, open_downloads
from cravik.orders.happened import DuePaid, about
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.letters import letters_about_stock
from cravik.orders.models import Order
from cravik.payments.agreements import go_on_with_agreement
from cravik.payments.dues import take_in
from cravik.payments.holding import confirm_all
from cravik.payments.models import Agreement, Allocation, Attempt, Due, Hold
from cravik.payments.services import charge_moved
from cravik.people.actors import BUYER, CLOCK
from cravik.upkeep.prepared import Param, PreparedUpdate, insert
from cravik.upkeep.queue import enqueue_once


def pay_dues(order: Order, attempt: Attempt, allocations: Sequence[Allocation], now: datetime) -> None:
    """What an approved attempt brought is the dues' that it was for, and the ledger's. In the transaction under way,
    in which the answer was recorded, so that it is done once."""
    checkout = attempt.checkout
    if attempt.amount_minor:
        insert(charge_moved(attempt, checkout, checkout.line, now))
        order.taken_minor, order.is_refunded = order.taken_minor + attempt.amount_minor, False
        _TAKE.run(order=order.pk, taken=order.taken_minor)
    for each in allocations:
        if each.due.state in Due.UNPAID:  # else nothing was asked for, to keep another card
            take_in(each.due, each.amount_minor, now)
    paid = (DuePaid(each.amount_minor, attempt.currency, each.due.position) for each in allocations)
    write_all((what, about(order), now, attempt.actor) for what in paid if what.minor)
    if checkout.line.is_paid_over_time or any(each.due.position for each in allocations):
        _go_on(order, [each.due for each in allocations], now)


def _go_on(order: Order, dues: Sequence[Due], now: datetime) -> None:
    """A later payment takes its pieces again where that was agreed, what was paused since it was not paid goes on, and
    the plan is one payment further."""
    agreement = Agreement.objects.select_for_update().filter(checkout=order.checkout_id).first()
    if agreement is None:
        return
    later = [due for due in dues if due.position and due.state == Due.State.PAID]
    for _ in later:
        take_stock_again(order, agreement, now)
    if later and agreement.repeats:
        open_again(order, now, by=CLOCK)
    if later and agreement.state == Agreement.State.PAUSED and agreement.why == Agreement.Why.DECLINED:
        resume(order, now, day_of(order, now), by=CLOCK)
        agreement.refresh_from_db()
    go_on_with_agreement(agreement, order.checkout, now)


def count_as_paid(order: Order, checkout: Checkout, now: datetime, holds: Sequence[Hold] | None = None) -> None:
    """The order counts from now on: what was held is its buyer's, its downloads are open, its visit has paid, and its
    letters are due. In the transaction under way; of an order that was made as a paid one, or that is paid now."""
    line = checkout.line
    if order.paid_at is None:
        order.paid_at, order.letters_due = now, True
        order.save(update_fields=["paid_at", "letters_due"])
    version = shown_version(line.version_id)
    bought = {each["key"] for each in line.quote_document["lines"]}
    open_downloads(order, {item for key, item in version.items.items() if key in bought}, now)
    if not checkout.rehearsal:
        kept = confirm_all(checkout.pk, now, holds)
        if version.content.limits.counts:  # what is published since then may count too: the clock sees to that
            _end_if_all_are_taken(line.link_id, now)
        for variant in kept.variants:
            if low := newly_low(variant):
                queue_letters(checkout.business, letters_about_stock(low, checkout), now)
    visit_id = checkout.visit_id
    is_counted = visit_id is not None and climb(visit_id, line.link_id, Rung.PAID, now, line.code_id)
    if not is_counted and not checkout.rehearsal and checkout.left_out != LeftOut.Reason.OWN:
        met = VisitedPage(checkout.business_id, line.link_id, line.spot_id, line.version_id)
        opened_at, code_id = checkout.opened_at or checkout.made_at, line.code_id
        checkout.visit_id = count_paid_visit(met, checkout.visitor, checkout.left_out, opened_at, now, code_id)
        checkout.save(update_fields=["visit_id"])
    enqueue_once(write_due_letters)


def _end_if_all_are_taken(link_id: int, now: datetime) -> None:
    """End the link if it has as many orders, or pieces, as what is published of it now allows."""
    if is_used_up(published_content(link_id), paid_of(link_id)):
        end_by_count(link_id, now, by=BUYER)


#: Of an order that was made or locked in the transaction under way.
_TAKE = PreparedUpdate(lambda: Order.objects.filter(id=Param("order")), taken_minor=Param("taken"), is_refunded=False)
