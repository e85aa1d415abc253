"""The press of the button: records what the buyer wants, holds what is scarce, and charges what is due now."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import DateTimeField, Q
from structlog.contextvars import bound_contextvars

from cravik.catalogue.stock import SoldOut
from cravik.checkout.models import Checkout, CheckoutLine
from cravik.core.documents.basket import write_basket
from cravik.core.documents.quote import write_kept_quote
from cravik.core.link.counted import Counted
from cravik.core.link.steps import offer_at
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import Quote, work_out
from cravik.core.pricing.rows import PaymentRows, rows_of
from cravik.journal.fields import note_fields
from cravik.links.life.counting import NoPlaceLeft, NoUseLeft, TooFewLeft, code_row, lock_tally, pieces_of
from cravik.links.life.lifecycle import rehearsed_version
from cravik.links.models import Link, LinkCode
from cravik.orders.acts.due_paid import count_as_paid
from cravik.orders.acts.order_made import make_order
from cravik.orders.models import Order
from cravik.orders.paying.bounds_of_buyer import check_buyer, check_uses
from cravik.orders.paying.conclude import Pressed, call_off, take_answer
from cravik.orders.paying.making_room import make_room
from cravik.orders.paying.submission import PaymentSubmission
from cravik.orders.paying.under_way import (
    OneUnderWay,
    TooManyUnderWay,
    call_off_asking,
    check_under_way,
    is_one_too_many,
)
from cravik.payments.agreements import drop_agreement, write_agreement
from cravik.payments.dues import take_in, write_dues
from cravik.payments.holding import Reservation, StockReservation, reserve_all
from cravik.payments.models import Attempt
from cravik.payments.services import AnotherUnderWay, begin_attempt, earlier_attempt, leave_open
from cravik.payments.ways import Ways
from cravik.payments.ways.base import Asking, account_of
from cravik.payments.ways.card import bank_address
from cravik.people.actors import BUYER
from cravik.setup.running import rules_at
from cravik.ui.timings import Clock
from cravik.upkeep.prepared import Param, PreparedSelect, insert

#: A second payment of the same buyer for the same link within this time is asked about first.
ASK_ABOUT_A_SECOND_WITHIN = timedelta(minutes=30)

#: What of a checkout may differ when its page is sent once more after a decline.
_DECIDED_ANEW = [
    *("buyer_name", "buyer_email", "buyer_key", "where", "answers", "typed"),
    *("agreed_to", "total_minor", "currency"),
]


class PaidAlready(Exception):
    """The same buyer paid, or is paying, for the same link on another page just now."""


class PageUsed(Exception):
    """Somebody else, or another card, paid with this very page: who sends it now is not shown what became of that."""


class StepReached(Exception):
    """Others were quicker: another of the link's prices holds now. ``offer`` is the one that does."""

    def __init__(self, offer: Offer) -> None:
        super().__init__("another price holds now")
        self.offer = offer


@dataclass(frozen=True)
class Outcome:
    """What became of a nonce: the attempt, or none where nothing was due and the order is made."""

    attempt: Attempt | None

    @property
    def is_taken(self) -> bool:
        """Whether it was paid, or may have been."""
        return self.attempt is None or self.attempt.state in Attempt.MAY_HAVE_PAID

    @property
    def status(self) -> int | None:
        """What a program is told of it: 402 declined, 503 not known yet or not reached; None where it is paid."""
        if self.attempt is None or self.attempt.state == Attempt.State.APPROVED or self.attempt.awaited_until:
            return None
        return 402 if self.attempt.state == Attempt.State.DECLINED else 503


def take_payment(sent: PaymentSubmission, ways: Ways, now: datetime, clock: Clock, *, may_be_second: bool) -> Outcome:
    """Ask for what the page showed, and return what became of it.

    ``now`` is when it was pressed; its answer is stamped by the ``clock`` when it came.

    A pending attempt is not known yet; an approved one has an order. Sent twice, the same attempt comes back.
    Raises ``PageUsed``, ``PaidAlready`` unless ``may_be_second``, ``OneUnderWay`` and ``TooManyUnderWay`` where too
    much waits for its answer already, and, where something is gone, ``SoldOut``, ``NoPlaceLeft``, ``NoUseLeft``,
    ``TooFewLeft``, ``StepReached``, ``EnoughForOne``, ``EnoughPieces`` or ``CodeUsedByBuyer``: nothing is held or
    charged then.
    """
    try:
        outcome = _take_once(sent, ways, now, clock, may_be_second=may_be_second)
    except (SoldOut, NoPlaceLeft, TooFewLeft, NoUseLeft):
        if not make_room(sent.version.link_id, set(sent.version.items.values()), ways, clock):
            raise
        outcome = _take_once(sent, ways, now, clock, may_be_second=may_be_second)
    except OneUnderWay:
        if not call_off_asking(sent, ways, clock):
            raise
        outcome = _take_once(sent, ways, now, clock, may_be_second=may_be_second)
    other = outcome.attempt
    if other and bank_address(other) and other.key != sent.means.key(sent.token.nonce):
        # The buyer came back from their bank's question, to pay with something else.
        call_off(other, ways, clock)
        if not outcome.is_taken:
            outcome = _take_once(sent, ways, now, clock, may_be_second=may_be_second)
    return outcome


def _take_once(sent: PaymentSubmission, ways: Ways, now: datetime, clock: Clock, *, may_be_second: bool) -> Outcome:
    way = ways[sent.means.way]
    with transaction.atomic():
        checkout = _checkout_of(sent.token.reference)
        key = sent.means.key(sent.token.nonce)
        if checkout is not None and (before := _outcome_of_before(checkout, key)):
            if before.is_taken and not _is_the_same(sent, checkout, before.attempt, key):
                raise PageUsed
            return before
        if not may_be_second and _paid_on_another_page(sent, now):
            raise PaidAlready
        check_under_way(sent, way, now)
        code = _count(sent, now)
        is_new = checkout is None
        checkout = _written(sent, checkout, code, now)
        if checkout.visit_id and not checkout.rehearsal:
            note_fields(checkout.visit_id, sent.version.link_id, sent.touched, now)
        due = write_dues(checkout, sent.picked.quote, sent.picked.basket.on, is_new=is_new)
        holds = [] if sent.token.rehearsal else reserve_all(checkout, _wanted(sent, code), now + way.hold())
        if sent.agrees_to_more:
            rules = rules_at(sent.business_id, sent.token.instant)
            write_agreement(checkout, sent.plan, sent.picked.quote, sent.picked.basket.on, rules, now)
        elif not is_new:
            drop_agreement(checkout)
        if way.settles_at_once:
            take_in(due, 0, now)
            count_as_paid(make_order(checkout, now, way.name, is_paid=True), checkout, now, holds)
            return Outcome(None)
        attempt, allocations = begin_attempt(checkout, {due: due.amount_minor}, sent.means, key, now, by=BUYER)
    with bound_contextvars(attempt=attempt.pk):
        answer = way.ask(attempt, sent.means, _asking(sent))
        if answer is not None:
            take_answer(attempt, answer, clock(), Pressed(allocations, holds))
        else:
            leave_open(attempt, clock())
        if is_one_too_many(sent, attempt) and call_off(attempt, ways, clock) and not Outcome(attempt).is_taken:
            raise TooManyUnderWay
    return Outcome(attempt)


def _asking(sent: PaymentSubmission) -> Asking:
    return Asking(
        account=account_of(sent.business_id),
        statement_text=sent.statement_text,
        rehearsal=sent.token.rehearsal,
        return_address=sent.return_address,
        keep=sent.agrees_to_more,
    )


_SAME_PAGE = PreparedSelect(lambda: Checkout.objects.filter(reference=Param("reference")).values_list("id"))


def _checkout_of(reference: str) -> Checkout | None:
    """The checkout of a page that was sent before, locked. Nearly always there is none, which is cheap to see."""
    if not _SAME_PAGE.first(reference=reference):
        return None
    return Checkout.objects.select_for_update().filter(reference=reference).first()


def _is_the_same(sent: PaymentSubmission, checkout: Checkout, taken: Attempt | None, key: str) -> bool:
    """Whether the buyer who paid with this page sends it once more: by name and address, and by the card once it was
    charged."""
    if taken is not None and taken.state == Attempt.State.APPROVED and taken.key != key:
        return False
    return checkout.is_of(sent.buyer_key, sent.name)


def _outcome_of_before(checkout: Checkout, key: str) -> Outcome | None:
    """What became of an earlier press of the same page, if this one is the same or may not follow it."""
    try:
        attempt = earlier_attempt(list(checkout.attempts.all()), key)
    except AnotherUnderWay as other:
        return Outcome(other.attempt)
    if attempt is None and Order.objects.filter(checkout=checkout).exists():
        return Outcome(None)
    return Outcome(attempt) if attempt else None


def _count(sent: PaymentSubmission, now: datetime) -> LinkCode | None:
    """Lock what the press is counted by, and see whether it still holds; returns the row of the code, if one counts.

    The price is that of the page, the limits are those that are published now: places are taken by pressing alone.
    Between this and the end of the transaction nobody else's press on the link is counted.
    """
    content, link_id = sent.version.content, sent.version.link_id
    code = sent.picked.basket.code
    rule = sent.version.rule_of(code) if code else None
    if sent.token.rehearsal:
        return None
    if content.steps or sent.limits.counts_by_buyer:
        tally = lock_tally(link_id)
        counted = Counted(tally.paid + tally.held, pieces_of(link_id).taken)
        instant = sent.token.instant if sent.token.holds(now) else now
        holds_now = offer_at(sent.version.offer, content.steps, instant, counted)
        if holds_now.lines != sent.offer.lines:
            raise StepReached(holds_now)
        check_buyer(sent)
    if code is None:
        return None
    row = code_row(link_id, code)
    if rule is not None and rule.uses_per_buyer is not None:
        check_uses(sent, row, rule.uses_per_buyer)
    return row


def _wanted(sent: PaymentSubmission, code: LinkCode | None) -> Reservation:
    version = sent.version
    groups = {line.key: [choice.name for choice in line.choices] for line in sent.offer.lines}
    stock = tuple(
        StockReservation(version.items[line.key], dict(zip(groups[line.key], line.options, strict=True)), line.quantity)
        for line in sent.picked.quote.lines
        if line.key in version.items
    )
    return Reservation(version.link_id, sent.pieces, code, stock)


def _written(sent: PaymentSubmission, there: Checkout | None, code: LinkCode | None, now: datetime) -> Checkout:
    """The page's checkout with its line, as they are sent now."""
    quoted, agreed = sent.picked.quote, sent.version.agreed
    checkout = there or Checkout(
        business_id=sent.business_id,
        reference=sent.token.reference,
        rehearsal=sent.token.rehearsal,
        own_contact=dict(sent.version.own_contact),
        visit_id=sent.token.visit_id,
        visitor=sent.visitor,
        network=sent.network,
        left_out=sent.token.left_out,
        opened_at=sent.token.instant,
        made_at=now,
        may_be_written_to=True,
        number_locale=sent.number_locale[:35],
    )
    checkout.buyer_name, checkout.buyer_email, checkout.buyer_key = sent.name, sent.email, sent.buyer_key
    checkout.where, checkout.answers, checkout.typed = sent.where, sent.answers, sent.typed
    checkout.agreed_to_id = agreed.version_id if agreed else None
    checkout.total_minor, checkout.currency = quoted.total.minor, quoted.currency
    if there:
        checkout.save(update_fields=_DECIDED_ANEW)
    else:
        insert(checkout)
    line = checkout.line if there else CheckoutLine(checkout=checkout)
    line.link_id, line.spot_id, line.code = sent.version.link_id, sent.spot_id, code
    line.version_id = sent.version.version_id or _rehearsed(sent, now)
    line.title, line.options = sent.offer.title, options_words(quoted)
    line.basket_document, line.quote_document = write_basket(sent.picked.basket), write_kept_quote(quoted, _rows(sent))
    if there:
        line.save()
    else:
        insert(line)
    checkout.line = line
    return checkout


def _rows(sent: PaymentSubmission) -> list[PaymentRows]:
    """What each payment consists of, where there is more than the one that is made now."""
    basket = sent.picked.basket
    if not sent.picked.quote.schedule:
        return []
    return rows_of(work_out(sent.picked.offer, basket))


def options_words(quoted: Quote) -> str:
    """The options of everything that is bought, by name."""
    return ", ".join(option for line in quoted.lines for option in line.options)[:1000]


def _rehearsed(sent: PaymentSubmission, now: datetime) -> int:
    """The version that keeps the draft as it was rehearsed."""
    return rehearsed_version(Link.objects.get(id=sent.version.link_id), now).pk


def _paid_on_another_page(sent: PaymentSubmission, now: datetime) -> bool:
    if sent.token.rehearsal or not sent.visitor:
        return False
    others = _RECENT.rows(
        buyer=sent.buyer_key,
        since=now - ASK_ABOUT_A_SECOND_WITHIN,
        visitor=sent.visitor,
        reference=sent.token.reference,
    )
    if not others:  # nearly always; what follows is dearer to ask
        return False
    recent = Checkout.objects.filter(id__in=[pk for (pk,) in others], lines__link_id=sent.version.link_id)
    return recent.filter(Q(attempts__state__in=Attempt.MAY_HAVE_PAID) | Q(order__isnull=False)).exists()


_RECENT = PreparedSelect(
    lambda: (
        Checkout.objects.filter(
            buyer_key=Param("buyer"),
            made_at__gt=Param("since", DateTimeField()),
            visitor=Param("visitor"),
            rehearsal=False,
        )
        .exclude(reference=Param("reference"))
        .order_by()
        .values_list("id")[:100]
    )
)
