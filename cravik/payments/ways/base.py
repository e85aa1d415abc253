"""The port of a way to pay: how money is asked for, how long it is waited for, and how it goes back.

A way answers as the gateway does (``payments/gateway.py``), or says that the money was promised and may take days.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, ClassVar, Protocol

from cravik.payments.gateway import Answer, Decided, Notice, Refunded
from cravik.payments.models import Attempt, Refund


@dataclass(frozen=True)
class MoneyAwaited:
    """The buyer promised to pay, and may take until then. The order is made; it is neither paid nor money yet."""

    until: datetime


@dataclass(frozen=True)
class RefundRefused:
    """It will never be given back this way; ``reason`` in a word."""

    reason: str


WayAnswer = Answer | MoneyAwaited
RefundAnswer = Refunded | RefundRefused


class Means(Protocol):
    """With what somebody pays, as it came with their press. ``way`` is the name of the way to pay that takes it."""

    way: ClassVar[str]

    def key(self, nonce: str) -> str:
        """The idempotency key of pressing the button of one page with these means.

        The same press with the same means is the same attempt, whatever carries it here twice; other means are
        another attempt. What is secret of them cannot be got back from it.
        """
        ...

    def details(self) -> dict[str, Any]:
        """What of them is written down with the attempt."""
        ...


@dataclass(frozen=True)
class Asking:
    """What a way has to know beside the attempt: whose account it goes to, and how the buyer reads of it."""

    account: str
    statement_text: str
    rehearsal: bool
    #: Where a buyer who is asked elsewhere is led afterwards.
    return_address: str
    #: Whether the means are kept, to be used again later.
    keep: bool = False
    #: When it is asked, by the clock of whoever does; None: now. In a rehearsal that may be moved on.
    at: datetime | None = None


def account_of(business_id: int) -> str:
    """A business's account, where money is asked for."""
    return f"business-{business_id}"


class Way:
    """One way to pay. What is said here holds for a way that nobody has to be asked about."""

    name: ClassVar[str]
    #: Whether what it says is known with the press, so that nothing is asked of anybody and no attempt is made.
    settles_at_once: ClassVar[bool] = False

    def means_of(self, submitted: Any) -> Means:
        """What its part of the buyer's page submitted (``Submitted.means``), as it is paid with."""
        raise NotImplementedError

    def hold(self) -> timedelta:
        """How long what is scarce is held from the press on."""
        raise NotImplementedError

    def patience(self) -> timedelta:
        """How long an answer is waited for, from the press on, before the attempt is called off."""
        return self.hold()

    def ask(self, attempt: Attempt, means: Any, asking: Asking) -> WayAnswer | None:
        """Ask for the money, outside any transaction; None where nobody can say yet."""
        raise NotImplementedError

    def look_up(self, attempt: Attempt) -> WayAnswer | None:
        """What became of a pending attempt, or None where nobody can say."""
        return None

    def call_off(self, attempt: Attempt) -> Decided | None:
        """End a pending attempt, so that nothing more comes of it; None where nobody can say."""
        raise NotImplementedError

    def refund(self, refund: Refund) -> RefundAnswer | None:
        """Give back, for the first time or again; None where nobody can say yet."""
        raise NotImplementedError

    def notices(self) -> list[Notice]:
        """What was decided since without being asked for, oldest first, each until it is acknowledged."""
        return []

    def acknowledge(self, notice: Notice) -> None:
        """The notice has been taken note of."""

    def means_words(self, attempt: Attempt) -> str:
        """With what it was paid, after the way's label, such as “ending in 0019”; nothing where that says it all."""
        return ""
