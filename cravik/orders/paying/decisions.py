"""What may become of a press of the pay button. It is decided first, by ``pressing``; then it is shown once."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.checkout.opening import Closed as WhyClosed
from cravik.checkout.opening import Opened
from cravik.checkout.page_token import PageToken
from cravik.checkout.selection import Selection
from cravik.links.life.shown_version import ShownVersion
from cravik.payments.models import Attempt


@dataclass(frozen=True)
class Closed:
    """The link takes no payments now."""

    why: WhyClosed


@dataclass(frozen=True)
class Outdated:
    """The page cannot be paid as it was sent: it is shown as it is now, with what was typed, and ``notice`` says why.

    ``seen`` is the version that it showed, where what that costs is to be told beside.
    """

    notice: str
    token: PageToken | None = None
    seen: ShownVersion | None = None


@dataclass(frozen=True)
class ShownAgain:
    """The page once more with what was typed. Nothing was asked of the card.

    ``opened`` and ``selection`` are what it shows, ``token`` what it is sent with.
    """

    opened: Opened
    selection: Selection
    token: PageToken
    notices: tuple[str, ...] = ()
    status: int = 409


@dataclass(frozen=True)
class Faulty(ShownAgain):
    """Something that was typed cannot be taken."""

    notices: tuple[str, ...] = ("mistakes",)
    status: int = 400


@dataclass(frozen=True)
class Recounted(ShownAgain):
    """Only the sum was asked for."""

    status: int = 200


@dataclass(frozen=True)
class Changed(ShownAgain):
    """What was seen no longer holds: the sum, the price, what is left, or a code's uses."""


@dataclass(frozen=True)
class SentBefore:
    """The page was paid already, or is being paid, by the same buyer."""

    reference: str


@dataclass(frozen=True)
class Paid:
    """It is paid, or promised to be, and the order is made."""

    reference: str


@dataclass(frozen=True)
class Undecided:
    """It may have been paid: the answer is awaited."""

    reference: str


@dataclass(frozen=True)
class AtBank:
    """The buyer's bank asks them something first."""

    attempt: Attempt
    reference: str


@dataclass(frozen=True)
class Declined:
    """Nothing was charged. ``outcome`` is what a program is told: 402 declined, 503 not reached."""

    reference: str
    outcome: int | None


Decision = Closed | Outdated | ShownAgain | SentBefore | Paid | Undecided | AtBank | Declined
