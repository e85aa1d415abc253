"""How many payments somebody may have waiting for their answer, so that nobody keeps others out without paying.

One an e-mail address for each link, and so many from one network address. Those that are with the gateway at this
moment are not counted, so that a class may pay at once; one that comes back undecided beyond the bound is called off.
"""

from __future__ import annotations

from datetime import datetime

from django.conf import settings
from django.db.models import DateTimeField, Q

from cravik.orders.paying.conclude import call_off
from cravik.orders.paying.submission import PaymentSubmission
from cravik.payments.models import Attempt
from cravik.payments.services import CUT_OFF_AFTER
from cravik.payments.ways import Ways
from cravik.payments.ways.base import Way
from cravik.payments.ways.card import BANK
from cravik.ui.timings import Clock
from cravik.upkeep.prepared import Param, PreparedSelect


class OneUnderWay(Exception):
    """The same buyer has a payment for the link that waits for its answer."""


class TooManyUnderWay(Exception):
    """As many payments from the buyer's network wait for their answer as may."""


def check_under_way(sent: PaymentSubmission, way: Way, now: datetime) -> None:
    """Refuse a press that would leave too much undecided. Raises ``OneUnderWay`` and ``TooManyUnderWay``.

    In the transaction that records the attempt. Rehearsals hold nothing, so they are not counted.
    """
    if sent.token.rehearsal or way.settles_at_once:
        return
    waiting = _WAITING.rows(
        buyer=sent.buyer_key,
        link=sent.version.link_id,
        network=sent.network,
        before=now - CUT_OFF_AFTER,
        reference=sent.token.reference,
    )
    if any((buyer, link) == (sent.buyer_key, sent.version.link_id) for buyer, link, _ in waiting):
        raise OneUnderWay
    most = settings.CRAVIK_UNDECIDED_PER_NETWORK
    if sent.network and sum(network == sent.network for *_, network in waiting) >= most:
        raise TooManyUnderWay


def is_one_too_many(sent: PaymentSubmission, attempt: Attempt) -> bool:
    """Whether the attempt came back undecided, and as many from the network wait already as may."""
    if attempt.state != Attempt.State.PENDING or not sent.network:
        return False
    waiting = Attempt.objects.filter(state=Attempt.State.PENDING, left_open_at__isnull=False).exclude(id=attempt.pk)
    most: int = settings.CRAVIK_UNDECIDED_PER_NETWORK
    return waiting.filter(checkout__network=sent.network).count() >= most


def call_off_asking(sent: PaymentSubmission, ways: Ways, clock: Clock) -> bool:
    """Whether the payment under way was one that the buyer's bank was still asking about, begun with the same browser:
    then they left it for this one, and it is called off."""
    asking = Attempt.objects.filter(state=Attempt.State.PENDING, checkout__rehearsal=False, details__has_key=BANK)
    same = asking.filter(
        checkout__buyer_key=sent.buyer_key,
        checkout__visitor=sent.visitor,
        checkout__lines__link=sent.version.link_id,
    )
    left = list(same.select_related("checkout")) if sent.visitor else []
    return bool([attempt for attempt in left if call_off(attempt, ways, clock)])


_WAITING = PreparedSelect(
    lambda: (
        Attempt.objects.filter(
            Q(left_open_at__isnull=False) | Q(begun_at__lt=Param("before", DateTimeField())),
            Q(checkout__buyer_key=Param("buyer"), checkout__lines__link_id=Param("link"))
            | Q(checkout__network=Param("network")),
            state=Attempt.State.PENDING,
            checkout__rehearsal=False,
        )
        .exclude(checkout__reference=Param("reference"))
        .order_by()
        .values_list("checkout__buyer_key", "checkout__lines__link_id", "checkout__network")[:500]
    )
)
