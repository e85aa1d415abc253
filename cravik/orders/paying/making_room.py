"""Whoever waits long for an answer gives way to whoever wants what they hold.

Places, pieces, uses of a code and access codes are held while somebody pays. A payment that nobody has decided for
three minutes is called off once somebody else wants what it holds: at the gateway first, so that no late answer can
charge it, and what it held is released after that. One that promised its money, which may take days, keeps it.
"""

from __future__ import annotations

from collections.abc import Collection
from datetime import timedelta

from django.db.models import Q

from cravik.orders.paying.conclude import call_off
from cravik.payments.models import Attempt, Hold
from cravik.payments.ways import Ways, present_ways
from cravik.ui.timings import Clock

GIVES_WAY_AFTER = timedelta(minutes=3)
#: So many are called off at once: each is a call to the gateway, while somebody waits.
_MOST = 10


def make_room(link_id: int, item_ids: Collection[int], ways: Ways, clock: Clock) -> bool:
    """Call off who holds an order of the link, a use of its codes or some of the items for too long, and whether that
    set anything free."""
    wanted = Q(link_id=link_id) | Q(code__link_id=link_id)
    if item_ids:
        wanted |= Q(variant__item_id__in=item_ids) | Q(access_code__item_id__in=item_ids)
    holders = Hold.objects.filter(wanted, state=Hold.State.HELD).order_by().values("checkout")
    undecided = Attempt.objects.filter(
        state=Attempt.State.PENDING, awaited_until__isnull=True, begun_at__lt=clock() - GIVES_WAY_AFTER
    )
    found = undecided.filter(checkout__in=holders).select_related("checkout").order_by("begun_at")[:_MOST]
    ended = [attempt for attempt in found if call_off(attempt, ways, clock)]
    return bool(ended)


def make_room_now(link_id: int, item_ids: Collection[int], clock: Clock) -> bool:
    """The same by the ways that are in use."""
    return make_room(link_id, item_ids, present_ways(), clock)
