"""A way to pay that takes days, for tests of what no way of the product does yet: the buyer promises, the money comes
later or not at all."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from datetime import timedelta
from typing import Any, ClassVar
from unittest import mock

from django.utils import timezone

from cravik.payments.counter.gateway import CounterGateway
from cravik.payments.gateway import Approved, Decided, NeverCharged, Notice
from cravik.payments.models import Attempt
from cravik.payments.ways import ways_through
from cravik.payments.ways.base import Asking, MoneyAwaited, Way
from cravik.setup.defaults import Subject
from cravik.setup.ways import OFFERED_WAYS, OfferedWay

DAYS = timedelta(days=7)


@dataclass(frozen=True)
class Promised:
    way: ClassVar[str] = "promise"

    def key(self, nonce: str) -> str:
        return f"promise-{nonce}"

    def details(self) -> dict[str, Any]:
        return {}


class PromiseWay(Way):
    name = "promise"

    def __init__(self) -> None:
        self.came: list[Notice] = []

    def means_of(self, submitted: None) -> Promised:
        return Promised()

    def hold(self) -> timedelta:
        return DAYS

    def ask(self, attempt: Attempt, means: Promised, asking: Asking) -> MoneyAwaited:
        return MoneyAwaited(timezone.now() + DAYS)

    def call_off(self, attempt: Attempt) -> Decided:
        return NeverCharged()

    def notices(self) -> list[Notice]:
        return list(self.came)

    def acknowledge(self, notice: Notice) -> None:
        self.came.remove(notice)

    def money_comes(self, attempt: Attempt) -> None:
        self.came += [Notice(1, attempt.key, Approved("TRANSFER-1"))] * 2


@contextmanager
def promises_taken() -> Iterator[PromiseWay]:
    """As if the product had such a way, which a seller may allow."""
    way = PromiseWay()
    ways = {**ways_through(CounterGateway()), way.name: way}
    offered = OfferedWay(way.name, "Transfer", Subject.FEE, frozenset({"EUR"}))
    used = ("orders.paying.pressing", "orders.confirmation_views", "orders.paying.making_room", "payments.ways")
    with ExitStack() as patches:
        patches.enter_context(mock.patch.dict(OFFERED_WAYS, {way.name: offered}))
        for module in used:
            patches.enter_context(mock.patch(f"cravik.{module}.present_ways", return_value=ways))
        yield way
