"""Ways to pay, one a file. What is paid, kept and held goes through this registry and knows no way by name.

What a seller allows and buyers read of each stands in ``setup/ways.py``; its part of the buyer's page, in
``checkout/parts/``.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

from cravik.payments.gateway import Gateway
from cravik.payments.gateways import present_gateway
from cravik.payments.models import Attempt
from cravik.payments.ways.base import Way
from cravik.payments.ways.card import CardWay
from cravik.payments.ways.nothing import NothingWay
from cravik.setup.ways import OFFERED_WAYS

Ways = Mapping[str, Way]


def ways_through(gateway: Gateway) -> Ways:
    """Every way to pay, by its name, where cards are charged through the gateway."""
    return {way.name: way for way in (CardWay(gateway), NothingWay())}


@cache
def present_ways() -> Ways:
    """Those of this installation, by its settings."""
    return ways_through(present_gateway())


def paid_with(attempt: Attempt) -> tuple[str, str]:
    """What an attempt was paid with, as it is read: the label of its way, and the words for what was used."""
    return OFFERED_WAYS[attempt.way].label, present_ways()[attempt.way].means_words(attempt)


def paid_with_words(attempt: Attempt) -> str:
    """The same within a sentence, such as “card ending in 0019”."""
    label, used = paid_with(attempt)
    return f"{label.lower()} {used}".rstrip()


def way_of(ways: Ways, attempt: Attempt) -> Way:
    """The one by which it is paid."""
    return ways[attempt.way]
