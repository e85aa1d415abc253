"""Paying: from a filled-in page to an order, once, whatever happens on the way.

1. One transaction records the checkout and the attempt: the intent.
2. The gateway is called, outside any transaction.
3. One transaction records the answer and, where it was an approval, makes the order and queues
   its letters.

A crash between 1 and 3 leaves a pending attempt, which ``settle_cut_off`` brings to its end.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import F

from cravik.catalogue.handed_over import give_code, hold_code, release_code
from cravik.catalogue.models import AccessCode, Combination
from cravik.catalogue.stock import give_back, newly_low, take_one
from cravik.checkout.models import Checkout
from cravik.checkout.page_token import PageToken
from cravik.core.documents.offer import write_offer
from cravik.core.documents.quote import write_kept_quote
from cravik.core.ladder import Rung
from cravik.core.offer import Offer
from cravik.core.quote import Quote
from cravik.journal.services import climb
from cravik.links.models import Link
from cravik.mailroom.services import queue_letters
from cravik.orders.handing_over import open_downloads
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.letters import letters_about_stock
from cravik.orders.models import Order, OrderBook
from cravik.payments.gateway import Approved, Card, Gateway
from cravik.payments.models import Attempt
from cravik.payments.services import (
    AnotherUnderWay,
    Answer,
    ask_again,
    attempt_key,
    begin_attempt,
    call_gateway,
    pending_since,
    record_answer,
)
from cravik.upkeep.queue import enqueue_once

#: A second payment of the same buyer for the same link within this time is asked about first.
ASK_ABOUT_A_SECOND_WITHIN = timedelta(minutes=30)


#: What of a checkout may differ when its page is sent once more after a decline.
_DECIDED_ANEW = ["buyer_name", "buyer_email", "where", "picked", "quote_document", "total_minor"]


@dataclass(frozen=True)
class Wish:
    """What a buyer sent off: which link on which terms, who pays, with what."""

    link: Link
    offer: Offer
    quoted: Quote
    #: Where the buyer is, as far as they were asked; see ``Checkout.where``.
    where: dict[str, str]
    #: The options by their groups.
    picked: dict[str, str]
    #: The version of the terms that they agreed to, by its id.
    agreed_to: int | None
    #: Contact and statement, where the link has its own.
    own_contact: dict[str, str]
    token: PageToken
    name: str
    email: str
    card: Card
    visitor: str


class PaidAlready(Exception):
    """The same buyer paid, or is paying, for the same link on another page just now."""


def take_payment(wish: Wish, gateway: Gateway, now: datetime, *, may_be_second: bool) -> Attempt:
    """Charge what the page showed, and return the attempt with its outcome.

    A pending one is not known yet; an approved one has an order. Sent twice, the same attempt comes
    back. Raises ``PaidAlready`` unless ``may_be_second``, and ``SoldOut``.
    """
    with transaction.atomic():
        checkout, is_new = _checkout_for(wish, now)
        if not may_be_second and _paid_on_another_page(checkout, now):
            raise PaidAlready
        try:
            key = attempt_key(wish.token.press, wish.card)
            earlier = [] if is_new else list(checkout.attempts.all())
            attempt, to_be_charged = begin_attempt(checkout, earlier, key, wish.card.ending, now)
        except AnotherUnderWay as other:
            return other.attempt
        if to_be_charged and not is_new:
            checkout.save(update_fields=_DECIDED_ANEW)
        if to_be_charged and wish.link.item_id and not checkout.rehearsal:
            attempt.held, attempt.access_code = _hold(wish)
            attempt.save(update_fields=["held", "access_code"])
        if to_be_charged and wish.token.visit_id:
            climb(wish.token.visit_id, wish.link.id, Rung.TRIED, now)
    if to_be_charged and (answer := call_gateway(gateway, attempt, checkout, wish.card)):
        conclude(attempt, answer, now)
    return attempt


@transaction.atomic
def conclude(attempt: Attempt, answer: Answer, now: datetime) -> None:
    """Record the answer; an approval becomes an order, in the same transaction. Safe to repeat."""
    if not record_answer(attempt, answer, now):
        attempt.refresh_from_db()
        return
    if not isinstance(answer, Approved):
        _let_go(attempt)
        return
    checkout = attempt.checkout
    order = Order.objects.create(
        business_id=checkout.business_id,
        link_id=checkout.link_id,
        checkout=checkout,
        attempt=attempt,
        number=_next_number(checkout),
        rehearsal=checkout.rehearsal,
        buyer_name=checkout.buyer_name,
        buyer_email=checkout.buyer_email,
        title=checkout.offer_document["title"],
        offer_document=checkout.offer_document,
        quote_document=checkout.quote_document,
        total_minor=checkout.total_minor,
        currency=checkout.currency,
        paid_at=now,
    )
    if checkout.link.item_id:
        open_downloads(order, checkout.link.item_id, now)
    if attempt.access_code_id:
        give_code(attempt.access_code_id, now)
    if checkout.visit_id:
        climb(checkout.visit_id, checkout.link_id, Rung.PAID, now)
    if attempt.held_id and (low := newly_low(attempt.held_id)):
        queue_letters(checkout.business, letters_about_stock(low, checkout), now)
    enqueue_once(write_due_letters)


def _hold(wish: Wish) -> tuple[Combination | None, AccessCode | None]:
    """Hold what is counted of the item while its buyer pays. Raises ``SoldOut``."""
    assert wish.link.item_id is not None
    return take_one(wish.link.item_id, wish.picked), hold_code(wish.link.item_id)


def _let_go(attempt: Attempt) -> None:
    """Give back what was held for an attempt that came to nothing."""
    if attempt.held_id:
        give_back(attempt.held_id)
    if attempt.access_code_id:
        release_code(attempt.access_code_id)
        attempt.access_code = None
        attempt.save(update_fields=["access_code"])


def settle_cut_off(gateway: Gateway, begun_before: datetime, now: datetime) -> int:
    """Ask the gateway about every attempt without an answer that began before then.

    Returns how many were settled. Whoever else settles the same one, it is recorded once.
    """
    settled = 0
    for attempt in pending_since(begun_before):
        if answer := ask_again(gateway, attempt):
            conclude(attempt, answer, now)
            settled += 1
    return settled


def _checkout_for(wish: Wish, now: datetime) -> tuple[Checkout, bool]:
    """The page's checkout and whether it is new; in that of an earlier press, what is new is not yet saved."""
    known = Checkout.objects.filter(reference=wish.token.reference).first()
    quoted = wish.quoted
    if known:
        known.buyer_name, known.buyer_email = wish.name, wish.email
        known.where, known.picked = wish.where, wish.picked
        known.quote_document, known.total_minor = write_kept_quote(quoted), quoted.total.minor
        return known, False
    made = Checkout.objects.create(
        business=wish.link.business,
        link=wish.link,
        reference=wish.token.reference,
        rehearsal=wish.token.rehearsal,
        offer_document=write_offer(wish.offer),
        quote_document=write_kept_quote(quoted),
        total_minor=quoted.total.minor,
        currency=quoted.currency,
        buyer_name=wish.name,
        buyer_email=wish.email,
        where=wish.where,
        picked=wish.picked,
        agreed_to_id=wish.agreed_to,
        own_contact=wish.own_contact,
        visit_id=wish.token.visit_id,
        visitor=wish.visitor,
        made_at=now,
    )
    return made, True


def _paid_on_another_page(checkout: Checkout, now: datetime) -> bool:
    if checkout.rehearsal or not checkout.visitor:
        return False
    return (
        Checkout.objects.filter(
            link_id=checkout.link_id,
            buyer_email=checkout.buyer_email,
            made_at__gt=now - ASK_ABOUT_A_SECOND_WITHIN,
            visitor=checkout.visitor,
            rehearsal=False,
            attempts__state__in=Attempt.OPEN_STATES,
        )
        .exclude(id=checkout.id)
        .exists()
    )


def _next_number(checkout: Checkout) -> int:
    """The next number of the business's book; the transaction's write lock keeps it without gaps."""
    book, _ = OrderBook.objects.get_or_create(business_id=checkout.business_id)
    which = "last_rehearsal" if checkout.rehearsal else "last_number"
    OrderBook.objects.filter(id=book.id).update(**{which: F(which) + 1})
    return int(getattr(book, which)) + 1
