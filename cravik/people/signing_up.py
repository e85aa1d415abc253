"""Opening a business where the installation is open to strangers: by a letter, so that nobody learns who has an
account.

Nothing is kept until then: what was typed stands in the address that is mailed, signed. Whoever opens it chooses the
password there, so that nobody else knows it who asked in their name.
"""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.core import signing
from django.db import transaction
from django.urls import reverse

from cravik.people.models import Business, User
from cravik.people.services import make_business
from cravik.ui.addresses import absolute

_SALT = "cravik.people.signing_up"
HOLDS_FOR = 3600


class AlreadyOpened(Exception):
    """Somebody with that address has signed up meanwhile."""


def confirm_address(email: str, business: dict[str, Any]) -> str:
    """The address to be mailed: holds for an hour."""
    asked = {"email": email, "business": business}
    return absolute(reverse("people:confirm_sign_up", args=[signing.dumps(asked, salt=_SALT, compress=True)]))


def asked_in(signed: str) -> dict[str, Any] | None:
    """What was typed, or None where the address is old or none of ours."""
    try:
        asked: dict[str, Any] = signing.loads(signed, salt=_SALT, max_age=HOLDS_FOR)
    except signing.BadSignature:
        return None
    return asked


@transaction.atomic
def open_business(asked: dict[str, Any], password: str, now: datetime) -> User:
    """The user and the business. Raises ``AlreadyOpened``."""
    if User.objects.filter(email=asked["email"]).exists():
        raise AlreadyOpened
    return make_business(User(email=asked["email"]), password, Business(**asked["business"]), now)
