"""The signed note that a buyer's page carries, so that what was shown is what is charged.

It names the version that was shown, when, and the reference that makes one page one checkout
however often it is sent. It holds no authority: whoever has it can only pay. It stands in for the
cookie that the page does without.
"""

from __future__ import annotations

import secrets
from dataclasses import asdict, dataclass, field, replace
from datetime import UTC, date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from django.core import signing

from cravik.ui.timings import price_promised
from cravik.upkeep.references import new_reference

_SALT = "cravik.checkout.page"
#: What fields were called before: pages that were opened then still pay.
_RENAMED = {"edition_id": "version_id"}
MAX_LENGTH = 8000


class TokenRefused(Exception):
    """The note was altered, or is of another page."""


@dataclass(frozen=True)
class PageToken:
    """``reference`` names the checkout, ``nonce`` this rendering of its button."""

    link_id: int
    version_id: int | None
    revision: int
    reference: str
    nonce: str
    rehearsal: bool
    visit_id: int | None
    shown_at: int
    # What a token did not carry before stands below with a default, so that a page that was opened then still pays.
    #: The spot at which the page was opened; None: the link itself.
    spot_id: int | None = None
    #: Why its visit was left out, if it was.
    left_out: str = ""
    #: What the address locked, by the names of fields: what is sent for them is not looked at.
    locked: dict[str, str] = field(default_factory=dict)

    def signed(self) -> str:
        return signing.dumps(asdict(self), salt=_SALT)

    def holds(self, now: datetime) -> bool:
        """Whether the price on the page is still promised."""
        return 0 <= now.timestamp() - self.shown_at <= price_promised().total_seconds()

    @property
    def instant(self) -> datetime:
        """When the page was shown: what is charged is worked out for it, as long as its price is promised."""
        return datetime.fromtimestamp(self.shown_at, UTC)

    def day_in(self, time_zone: str) -> date:
        """The seller's day on which the page was shown."""
        return self.instant.astimezone(ZoneInfo(time_zone)).date()

    def shown_now(self, version_id: int | None, now: datetime) -> PageToken:
        """For the same page with the version of now: its price is promised again, its checkout is the same."""
        return replace(self, version_id=version_id, shown_at=int(now.timestamp()), nonce=_new_nonce())

    def shown_again(self) -> PageToken:
        """For the same page shown once more after an answer: the next press is another attempt."""
        return replace(self, nonce=_new_nonce())


def live_token(
    link_id: int,
    version_id: int,
    spot_id: int,
    visit_id: int | None,
    now: datetime,
    *,
    left_out: str = "",
    locked: dict[str, str] | None = None,
) -> PageToken:
    """For a page that a buyer opens."""
    more = {
        "rehearsal": False,
        "visit_id": visit_id,
        "spot_id": spot_id,
        "left_out": left_out,
        "locked": locked or {},
    }
    return _new_token(link_id, version_id, 0, now, **more)


def rehearsal_token(link_id: int, revision: int, now: datetime) -> PageToken:
    """For the draft of that revision, as its seller rehearses it."""
    return _new_token(link_id, None, revision, now, rehearsal=True, visit_id=None, spot_id=None)


def _new_token(link_id: int, version_id: int | None, revision: int, now: datetime, **more: Any) -> PageToken:
    return PageToken(
        link_id=link_id,
        version_id=version_id,
        revision=revision,
        reference=new_reference(12),
        nonce=_new_nonce(),
        shown_at=int(now.timestamp()),
        **more,
    )


def parse_token(signed: str) -> PageToken:
    """The token that was signed here. Raises ``TokenRefused``."""
    try:
        fields = signing.loads(signed[:MAX_LENGTH], salt=_SALT)
        return PageToken(**{_RENAMED.get(name, name): value for name, value in fields.items()})
    except (signing.BadSignature, AttributeError, TypeError, ValueError) as trouble:
        raise TokenRefused from trouble


def _new_nonce() -> str:
    return secrets.token_urlsafe(12)
