"""The port through which money is asked for, whoever moves it.

A gateway takes a charge with an idempotency key and gives a typed answer; the same key with the
same charge gets the same answer for ever. Every gateway passes ``tests/test_gateway_contract.py``.

    GatewayTrouble
    ├── AnswerLost      the charge may or may not have been made: ask again with ``look_up``
    ├── Unreachable     the charge was certainly not made
    ├── KeyReused       the key already stands for another charge or refund
    └── NothingToRefund no approved charge of that reference, or less of it left than was asked back
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Protocol

from cravik.core.pricing.money import Money


class DeclineReason(StrEnum):
    """Why a card was declined. What a buyer reads about each lives in a template."""

    INSUFFICIENT_FUNDS = "insufficient_funds"
    REFUSED_BY_BANK = "refused_by_bank"
    EXPIRED_CARD = "expired_card"
    WRONG_SECURITY_CODE = "wrong_security_code"
    LIMIT_REACHED = "limit_reached"
    UNKNOWN_CARD = "unknown_card"
    #: The bank asked its customer, who did not pass, or went away.
    CHECK_FAILED = "check_failed"
    CHECK_GIVEN_UP = "check_given_up"


#: Reasons that may be none some days later, so that it is worth asking again.
MAY_PASS_LATER = frozenset(
    {DeclineReason.INSUFFICIENT_FUNDS, DeclineReason.LIMIT_REACHED, DeclineReason.CHECK_GIVEN_UP, "called_off"}
)


class GatewayTrouble(Exception):
    """The root of what can go wrong on the way; a decline is an answer and not an error."""


class AnswerLost(GatewayTrouble):
    pass


class Unreachable(GatewayTrouble):
    pass


class KeyReused(GatewayTrouble):
    pass


class NothingToRefund(GatewayTrouble):
    pass


@dataclass(frozen=True)
class Card:
    """What the buyer typed: ``number`` and ``security_code`` in digits, ``expiry`` as (month, year)."""

    number: str
    expiry: tuple[int, int]
    security_code: str

    @property
    def ending(self) -> str:
        return self.number[-4:]

    def __repr__(self) -> str:
        return f"Card(… {self.ending})"


@dataclass(frozen=True)
class Token:
    """A card that the gateway keeps for the account, by what it gave for it."""

    token: str

    def __repr__(self) -> str:
        return "Token(…)"


@dataclass(frozen=True)
class Charge:
    """A sum to take from a card for ``account`` (the seller's, at the gateway).

    A buyer whom the card's bank asks on a page of its own is led to ``return_address`` afterwards. With ``keep``, an
    approval comes with a token by which the card may be charged again; a charge of nothing that keeps asks the bank
    whether the card is good.
    """

    key: str
    account: str
    amount: Money
    card: Card | Token
    statement_text: str
    rehearsal: bool
    return_address: str
    keep: bool = False
    #: When it is asked for; None: now. A simulated gateway goes by it in rehearsals, any other has a clock of its own.
    at: datetime | None = None


@dataclass(frozen=True)
class Refund:
    """A sum to give back of the charge that has ``charge_reference``; several may follow one charge."""

    key: str
    charge_reference: str
    amount: Money


@dataclass(frozen=True)
class Refunded:
    reference: str


@dataclass(frozen=True)
class Approved:
    """``kept`` is the token of the card, where it was to be kept, or where its bank replaced it; ``ending`` is how the
    new one ends then."""

    reference: str
    kept: str = ""
    ending: str = ""

    def __repr__(self) -> str:
        return f"Approved({self.reference!r})"


@dataclass(frozen=True)
class Declined:
    reference: str
    reason: DeclineReason


@dataclass(frozen=True)
class NeverCharged:
    """The key was not known, or was called off: it will be refused from now on."""

    called_off: bool = False


@dataclass(frozen=True)
class CheckWanted:
    """The card's bank asks its customer first, on a page of its own at ``address``."""

    address: str


@dataclass(frozen=True)
class Undecided:
    """The charge is known, and its bank has not answered yet."""


Decided = Approved | Declined | NeverCharged
Answer = Decided | CheckWanted | Undecided


@dataclass(frozen=True)
class Notice:
    """What the gateway tells without being asked: what became of ``key``. ``number`` is the notice's own."""

    number: int
    key: str
    answer: Decided


class Gateway(Protocol):
    #: Whether no money moves, so that pages say so.
    is_simulated: bool

    def charge(self, charge: Charge) -> Approved | Declined | CheckWanted | Undecided:
        """Take the sum, or say why not, or that it is not decided yet. Raises ``GatewayTrouble``."""
        ...

    def look_up(self, key: str) -> Answer:
        """What became of ``key``; one that never arrived is closed, so that it never will be charged."""
        ...

    def call_off(self, key: str) -> Decided:
        """End what is undecided, so that it never will be charged; what was decided meanwhile stands."""
        ...

    def notices(self) -> list[Notice]:
        """What was decided since, oldest first, each until it is acknowledged. The same may come more than once."""
        ...

    def acknowledge(self, notice: Notice) -> None:
        """The notice has been taken note of, and need not come again."""
        ...

    def refund(self, refund: Refund) -> Refunded:
        """Give the sum back to the card that was charged. Raises ``GatewayTrouble``.

        The same key with the same refund gets the same answer for ever; all refunds of a charge come to no more
        than it.
        """
        ...
