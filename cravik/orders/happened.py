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
    """``why`` is what the seller said of it; whether its pieces went back into stock, and their places are free."""

    minor: int
    currency: str
    why: str = ""
    restocks: bool = False
    frees_places: bool = False

    def words(self) -> str:
        what = [f"{format_money_clearly(Money(self.minor, self.currency))} refunded"]
        what += ["stock put back"] * self.restocks + ["places free again"] * self.frees_places
        return ", ".join(what) + (f": {self.why}" if self.why else "")


@of_kind("refund.failed")
@dataclass(frozen=True)
class RefundFailed:
    minor: int
    currency: str

    def words(self) -> str:
        return f"{format_money_clearly(Money(self.minor, self.currency))} could not be refunded"


@of_kind("order.refund_asked")
@dataclass(frozen=True)
class RefundAsked:
    """``wish`` is what the buyer says of it."""

    wish: str

    def words(self) -> str:
        return f"Asked for a refund: “{self.wish}”"


@of_kind("order.withdrawn")
@dataclass(frozen=True)
class Withdrawn:
    """``things`` are the names of what the buyer withdrew from buying."""

    things: list[str]

    def words(self) -> str:
        return f"Withdrew from buying {', '.join(self.things)}"


@of_kind("order.wish_settled")
@dataclass(frozen=True)
class WishSettled:
    def words(self) -> str:
        return "Settled what the buyer asked for"


@of_kind("buyer.erased")
@dataclass(frozen=True)
class BuyerErased:
    def words(self) -> str:
        return "Had their data erased"


@of_kind("order.sent")
@dataclass(frozen=True)
class OrderSent:
    """``tracking`` is a number or an address."""

    carrier: str = ""
    tracking: str = ""
    by_letter: bool = True

    def words(self) -> str:
        by = f" by {self.carrier}" if self.carrier else ""
        tracking = f" ({self.tracking})" if self.tracking else ""
        return f"Sent{by}{tracking}{'' if self.by_letter else ', without a letter'}"


@of_kind("order.stage")
@dataclass(frozen=True)
class StageChanged:
    """``stage`` is the one it has from then on, and ``former`` the one it had."""

    stage: str
    former: str

    def words(self) -> str:
        return {"to_do": "To do again", "done": "Done"}.get(self.stage, self.stage)


@of_kind("order.noted")
@dataclass(frozen=True)
class OrderNoted:
    note: str

    def words(self) -> str:
        return f"“{self.note}”"


@of_kind("order.letter_again")
@dataclass(frozen=True)
class LetterAgain:
    """``subject`` is the letter's."""

    subject: str
    to: str

    def words(self) -> str:
        return f"“{self.subject}” sent again to {self.to}"


@of_kind("order.document")
@dataclass(frozen=True)
class DocumentIssued:
    """``document`` is its kind and number."""

    document: str

    def words(self) -> str:
        return f"{self.document} issued"


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
