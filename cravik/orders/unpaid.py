"""Checkouts that were pressed and not paid: what became of each, and the one letter that may be written about it.

Who did not pay is forgotten after a month: what they typed, and not that they tried.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import Exists, OuterRef, Q, QuerySet

from cravik.checkout.models import Checkout
from cravik.links.life.shown_version import shown_version
from cravik.links.models import Link
from cravik.mailroom.models import Letter
from cravik.mailroom.services import OutgoingLetter, queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.orders.models import Order
from cravik.orders.tries import words_of_try
from cravik.payments.models import Attempt
from cravik.people.models import Business
from cravik.setup.hosts import address_of
from cravik.setup.messages.after_paying import NOT_PAID
from cravik.setup.messages.filling import Values, WebAddress
from cravik.setup.messages.wording import compose, words_of
from cravik.upkeep.queue import enqueue_once

KEPT_FOR = timedelta(days=30)
_FAILED = (Attempt.State.DECLINED, Attempt.State.VOID)
_BATCH = 500


class NotToBeWrittenTo(Exception):
    """Why no letter goes: ``written`` already, ``paid`` meanwhile, ``not_asked`` (the page did not say that one may be
    written to), or ``closed`` (the link takes no payments now)."""

    def __init__(self, why: str) -> None:
        super().__init__(why)
        self.why = why


@dataclass(frozen=True)
class Unpaid:
    """A checkout that was not paid, what became of the last try, and why no letter may go; "" where one may."""

    checkout: Checkout
    words: str
    why_not: str


def unpaid_checkouts(business: Business, now: datetime) -> QuerySet[Checkout]:
    """Those of the last month, the newest first; neither rehearsals nor what is not decided yet."""
    there = _without_order(begun_at__gte=now - KEPT_FOR).filter(business=business, rehearsal=False)
    return there.order_by("-made_at", "-id")


def _without_order(**begun: datetime) -> QuerySet[Checkout]:
    """Checkouts with a try of that time that failed, and neither an order nor a try that is not decided."""
    # Each state by itself: so the index of each is used.
    declined, void = (Attempt.objects.filter(state=state, **begun).order_by().values("checkout") for state in _FAILED)
    open_still = Attempt.objects.filter(checkout=OuterRef("pk"), state__in=Attempt.MAY_HAVE_PAID)
    there = Checkout.objects.filter(Q(id__in=declined) | Q(id__in=void), order__isnull=True)
    return there.exclude(Exists(open_still)).exclude(buyer_email="")


def unpaid_rows(checkouts: list[Checkout]) -> list[Unpaid]:
    """Each with what became of it; they came with their attempts, lines and the lines' links."""
    occasions = {_occasion(each): each.pk for each in checkouts}
    written = Letter.objects.filter(kind=NOT_PAID.kind, occasion__in=occasions)
    done = {occasions[occasion] for occasion in written.values_list("occasion", flat=True)}
    later = _paid_later(checkouts)
    return [Unpaid(each, _last_words(each), _why_not(each, each.pk in done, each.pk in later)) for each in checkouts]


def _last_words(checkout: Checkout) -> str:
    return words_of_try(max(checkout.attempts.all(), key=lambda each: (each.begun_at, each.pk)))


def _why_not(checkout: Checkout, is_written: bool, is_paid: bool) -> str:
    if is_written:
        return "written"
    if is_paid:
        return "paid"
    if not checkout.may_be_written_to:
        return "not_asked"
    return "" if checkout.line.link.state == Link.State.LIVE else "closed"


def _paid_later(checkouts: list[Checkout]) -> set[int]:
    """The ids of those whose buyers bought by the same link after all, on another page."""
    keys = {each.buyer_key for each in checkouts}
    orders = Order.objects.filter(checkout__buyer_key__in=keys, rehearsal=False)
    bought = list(orders.values_list("checkout__buyer_key", "link_id", "made_at"))
    return {
        each.pk
        for each in checkouts
        if any(key == each.buyer_key and link == each.line.link_id and at > each.made_at for key, link, at in bought)
    }


def write_once(checkout: Checkout, now: datetime) -> None:
    """Write the one letter about the checkout, which came as for ``unpaid_rows``. Raises ``NotToBeWrittenTo``."""
    letter = _letter(checkout)
    with transaction.atomic():
        Checkout.objects.select_for_update().get(id=checkout.pk)
        (unpaid,) = unpaid_rows([checkout])
        if unpaid.why_not or Order.objects.filter(checkout=checkout).exists():
            raise NotToBeWrittenTo(unpaid.why_not or "paid")
        queue_letters(checkout.business, [letter], now)
        enqueue_once(deliver_waiting_letters)


def _letter(checkout: Checkout) -> OutgoingLetter:
    line, contact = checkout.line, checkout.contact["support_email"]
    path = line.link.path if line.spot.is_first else line.spot.path
    values: Values = {
        "buyer": checkout.buyer_name,
        "business": checkout.business.name,
        "thing": line.title,
        "link_address": WebAddress(address_of(checkout.business_id, path)),
        "contact": contact,
    }
    look = shown_version(line.version_id).look
    composed = compose(NOT_PAID, words_of(checkout.business, NOT_PAID.kind), values, look=look)
    return OutgoingLetter(
        kind=NOT_PAID.kind,
        occasion=_occasion(checkout),
        to_name=checkout.buyer_name,
        to_address=checkout.buyer_email,
        **vars(composed),
        reply_to=contact,
    )


def _occasion(checkout: Checkout) -> str:
    return f"unpaid-{checkout.pk}"


def forget(now: datetime) -> int:
    """Drop what those typed who did not pay within ``KEPT_FOR``, and return of how many. Safe to run twice."""
    since = Attempt.objects.filter(checkout=OuterRef("pk"), begun_at__gte=now - KEPT_FOR)
    forgotten = 0
    while ids := list(
        _without_order(begun_at__lt=now - KEPT_FOR).exclude(Exists(since)).values_list("id", flat=True)[:_BATCH]
    ):
        with transaction.atomic():
            there = Checkout.objects.filter(id__in=ids, order__isnull=True)
            forgotten += there.update(
                buyer_name="", buyer_email="", buyer_key="", where={}, answers=[], typed={}, network="", visitor=""
            )
    return forgotten
