"""The signed note that a buyer's page carries, so that what was shown is what is charged.

It names the edition that was shown, when, and the reference that makes one page one checkout
however often it is sent. It holds no authority: whoever has it can only pay. It stands in for the
cookie that the page does without.
"""

from __future__ import annotations

import secrets
from dataclasses import asdict, dataclass, replace
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.core import signing

#: A price that was seen holds for this long.
HOLD = timedelta(minutes=15)
_SALT = "cravik.checkout.page"
# Crockford's alphabet: nothing in it is mistaken for something else when read aloud.
_READABLE = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"


class TokenRefused(Exception):
    """The note was altered, or is of another page."""


@dataclass(frozen=True)
class PageToken:
    """``reference`` names the checkout, ``press`` this rendering of its button."""

    link_id: int
    edition_id: int | None
    revision: int
    reference: str
    press: str
    rehearsal: bool
    visit_id: int | None
    shown_at: int

    def signed(self) -> str:
        return signing.dumps(asdict(self), salt=_SALT)

    def holds(self, now: datetime) -> bool:
        """Whether the price on the page is still promised."""
        return 0 <= now.timestamp() - self.shown_at <= HOLD.total_seconds()

    def day_in(self, time_zone: str) -> date:
        """The day on which the page was shown: what is charged is worked out for it."""
        return datetime.fromtimestamp(self.shown_at, ZoneInfo(time_zone)).date()

    def shown_again(self) -> PageToken:
        """For the same page shown once more after an answer: the next press is another attempt."""
        return replace(self, press=_new_press())


def new_token(
    link_id: int, edition_id: int | None, revision: int, rehearsal: bool, visit_id: int | None, now: datetime
) -> PageToken:
    return PageToken(
        link_id=link_id,
        edition_id=edition_id,
        revision=revision,
        reference="".join(secrets.choice(_READABLE) for _ in range(12)),
        press=_new_press(),
        rehearsal=rehearsal,
        visit_id=visit_id,
        shown_at=int(now.timestamp()),
    )


def read_token(signed: str) -> PageToken:
    """The token that was signed here. Raises ``TokenRefused``."""
    try:
        return PageToken(**signing.loads(signed[:2000], salt=_SALT))
    except (signing.BadSignature, TypeError, ValueError) as trouble:
        raise TokenRefused from trouble


def _new_press() -> str:
    return secrets.token_urlsafe(12)
