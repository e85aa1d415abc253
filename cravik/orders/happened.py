"""What happens to orders."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.pricing.money import Money
from cravik.core.text.money_text import format_money_clearly
from cravik.events.kinds import of_kind
from cravik.events.writing import About
from cravik.orders.models import Order


@of_kind("order.made")
@dataclass(frozen=True)
class OrderMade:
    number: int

    def words(self) -> str:
        return "Ordered"


@of_kind("due.paid")
@dataclass(frozen=True)
class DuePaid:
    """``position`` is that of the due among those of the order, from 0 on."""

    minor: int
    currency: str
    position: int = 0

    def words(self) -> str:
        return f"{format_money_clearly(Money(self.minor, self.currency))} paid"


@of_kind("due.failed")
@dataclass(frozen=True)
class DueFailed:
    """``reason`` is the gateway's, in a word."""

    minor: int
    currency: str
    position: int
    reason: str

    def words(self) -> str:
        return f"{format_money_clearly(Money(self.minor, self.currency))} could not be collected"


@of_kind("order.not_paid")
@dataclass(frozen=True)
class NotPaidInTime:
    def words(self) -> str:
        return "Not paid in time"


@of_kind("money.returned")
@dataclass(frozen=True)
class MoneyReturned:
    minor: int
    currency: str

    def words(self) -> str:
        return f"{format_money_clearly(Money(self.minor, self.currency))} refunded"


@of_kind("refund.failed")
@dataclass(frozen=True)
class RefundFailed:
    minor: int
    currency: str

    def words(self) -> str:
        return f"{format_money_clearly(Money(self.minor, self.currency))} could not be refunded"


@of_kind("order.letters_again")
@dataclass(frozen=True)
class LettersAgain:
    def words(self) -> str:
        return "Letters to be written again"


@of_kind("order.downloads_again")
@dataclass(frozen=True)
class DownloadsAgain:
    def words(self) -> str:
        return "Downloads opened again"


def about(order: Order) -> About:
    return About(
        order.business_id,
        order_id=order.pk,
        link_id=order.link_id,
        spot_id=order.spot_id,
        buyer_id=order.buyer_id,
        rehearsal=order.rehearsal,
    )
