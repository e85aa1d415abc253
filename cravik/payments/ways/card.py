"""By card: the gateway is asked, and the card's bank may ask its customer first.

An attempt keeps of the card how it ends (``ending``), and where its bank asks, if it does (``bank``).
"""

from __future__ import annotations

import hmac
from dataclasses import dataclass
from datetime import timedelta
from typing import Any, ClassVar

import structlog
from django.conf import settings

from cravik.checkout.parts.base import TypedCard
from cravik.payments.gateway import (
    Answer,
    AnswerLost,
    Card,
    Charge,
    Decided,
    Gateway,
    GatewayTrouble,
    KeyReused,
    NothingToRefund,
    Notice,
    Token,
)
from cravik.payments.gateway import Refund as AskedBack
from cravik.payments.models import Attempt, KeptCard, Refund
from cravik.payments.ways.base import Asking, RefundAnswer, RefundRefused, Way
from cravik.setup.ways import CARD
from cravik.ui.timings import called_off_after, held_while_paying

logger = structlog.stdlib.get_logger("cravik.payments")

#: What of the card an attempt keeps.
ENDING, BANK = "ending", "bank"


def bank_address(attempt: Attempt) -> str:
    """Where the card's bank is asking the buyer; nothing where it is not."""
    asks = attempt.details.get(BANK, "") if attempt.state == Attempt.State.PENDING else ""
    return str(asks)


def card_ending(attempt: Attempt) -> str:
    """The last four digits of the card; nothing of another way to pay."""
    return str(attempt.details.get(ENDING, ""))


@dataclass(frozen=True)
class CardMeans:
    """A card as it was typed."""

    card: Card
    way: ClassVar[str] = CARD

    def key(self, nonce: str) -> str:
        """Keyed with the installation's secret, so the card cannot be got back."""
        secret = "\0".join((nonce, self.card.number, *map(str, self.card.expiry), self.card.security_code))
        return hmac.digest(settings.SECRET_KEY.encode(), secret.encode(), "sha256").hex()

    def details(self) -> dict[str, Any]:
        return {ENDING: self.card.ending}

    @property
    def charged(self) -> Card:
        return self.card


@dataclass(frozen=True)
class KeptCardMeans:
    """A card that was kept at an earlier payment."""

    kept: KeptCard
    way: ClassVar[str] = CARD

    def key(self, nonce: str) -> str:
        return nonce

    def details(self) -> dict[str, Any]:
        return {ENDING: self.kept.ending}

    @property
    def charged(self) -> Token:
        return Token(self.kept.token)


class CardWay(Way):
    name = CARD

    def __init__(self, gateway: Gateway) -> None:
        self.gateway = gateway

    def means_of(self, submitted: TypedCard) -> CardMeans:
        return CardMeans(Card(*submitted))

    def hold(self) -> timedelta:
        return held_while_paying()

    def patience(self) -> timedelta:
        return called_off_after()

    def ask(self, attempt: Attempt, means: CardMeans | KeptCardMeans, asking: Asking) -> Answer | None:
        charge = Charge(
            key=attempt.key,
            account=asking.account,
            amount=attempt.amount,
            card=means.charged,
            statement_text=asking.statement_text,
            rehearsal=asking.rehearsal,
            return_address=asking.return_address,
            keep=asking.keep,
            at=asking.at,
        )
        try:
            return self.gateway.charge(charge)
        except AnswerLost:
            logger.warning("the gateway's answer was lost")
            return None
        except GatewayTrouble as trouble:
            logger.warning("the gateway did not take the charge", trouble=type(trouble).__name__)
            return self.look_up(attempt)

    def look_up(self, attempt: Attempt) -> Answer | None:
        try:
            return self.gateway.look_up(attempt.key)
        except GatewayTrouble:
            return None

    def call_off(self, attempt: Attempt) -> Decided | None:
        try:
            return self.gateway.call_off(attempt.key)
        except GatewayTrouble:
            return None

    def refund(self, refund: Refund) -> RefundAnswer | None:
        asked = AskedBack(refund.key, refund.charge.gateway_reference, refund.amount)
        try:
            return self.gateway.refund(asked)
        except NothingToRefund:
            return RefundRefused("nothing_to_refund")
        except KeyReused:
            return RefundRefused("key_reused")
        except GatewayTrouble as trouble:
            logger.warning("the gateway did not say what became of a refund", trouble=type(trouble).__name__)
            return None

    def notices(self) -> list[Notice]:
        return self.gateway.notices()

    def acknowledge(self, notice: Notice) -> None:
        self.gateway.acknowledge(notice)

    def means_words(self, attempt: Attempt) -> str:
        return f"ending in {card_ending(attempt)}"
