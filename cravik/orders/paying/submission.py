"""What a buyer sent off."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from cravik.buyers.keys import buyer_key
from cravik.checkout.page_token import PageToken
from cravik.checkout.parts.base import PricedBasket
from cravik.core.link.limits import Limits
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.schedule import SimplePlan
from cravik.core.text.schedule_words import plan_picked
from cravik.journal.fields import Touched
from cravik.links.life.shown_version import ShownVersion
from cravik.payments.ways.base import Means


@dataclass(frozen=True)
class PaymentSubmission:
    """Which version of which link, what was picked of it, who pays, with what.

    ``version`` are those that the page showed, without a version where it was a rehearsal's; ``offer`` is the one that
    held for it, after what was counted so far, without codes. ``limits`` are those that are published now.
    """

    business_id: int
    spot_id: int
    version: ShownVersion
    limits: Limits
    offer: Offer
    picked: PricedBasket
    token: PageToken
    #: Where the buyer is, as far as they were asked; see ``Checkout.where``.
    where: dict[str, str]
    #: What else they answered; see ``Checkout.answers``.
    answers: list[dict[str, Any]]
    name: str
    email: str
    means: Means
    visitor: str
    #: What stands for their network address today; nothing in a rehearsal.
    network: str
    #: What the buyer's statement will say.
    statement_text: str
    #: How numbers were written on the page that was sent.
    number_locale: str
    #: What was typed; see ``Checkout.typed``.
    typed: dict[str, Any]
    #: Which fields of the page were passed.
    touched: Touched
    #: Where a bank that asks the buyer itself leads afterwards.
    return_address: str

    @property
    def pieces(self) -> dict[str, int]:
        """How many of each line."""
        return {line.key: line.quantity for line in self.picked.quote.lines}

    @property
    def plan(self) -> SimplePlan:
        """When it is paid."""
        plan = plan_picked(self.picked.offer.plan, self.picked.basket.plan)
        assert plan is not None  # else there were no quote
        return plan

    @property
    def agrees_to_more(self) -> bool:
        """Whether the buyer agrees to more than is paid now: to later payments, or that their card is kept."""
        return bool(self.picked.quote.schedule) or self.version.content.asks.keep_card

    @property
    def buyer_key(self) -> str:
        return buyer_key(self.email)
