"""Bounds on guessing how somebody signs in: by network, and by password, so that one password is not tried on many.

Beside them django-axes counts by user and network. Whoever signs in with a browser that they signed in with before is
counted there alone, so that nobody who guesses keeps them out.
"""

from __future__ import annotations

import hmac
from datetime import datetime, timedelta

from django.conf import settings
from django.http import HttpRequest

from cravik.people.devices import is_known_device
from cravik.upkeep.networks import network_asking
from cravik.upkeep.tries import Bound, give_back, take_try

_FROM_ONE_NETWORK = Bound(40, timedelta(hours=1))
_WITH_ONE_PASSWORD = Bound(15, timedelta(hours=1))
#: Letters about accounts that may be asked for from one network.
_LETTERS = Bound(20, timedelta(hours=1))


def may_guess(request: HttpRequest, now: datetime) -> bool:
    """Whether a try to sign in is judged at all; each call is a try."""
    if is_known_device(request):
        return True
    from_there = take_try("sign in", network_asking(request), bound=_FROM_ONE_NETWORK, now=now)
    return from_there and take_try("password", _mark_of_password(request), bound=_WITH_ONE_PASSWORD, now=now)


def guessed_right(request: HttpRequest) -> None:
    """Let the try not count: it was the user's own password."""
    if not is_known_device(request):
        give_back("sign in", network_asking(request))
        give_back("password", _mark_of_password(request))


def may_ask_for_letter(request: HttpRequest, now: datetime) -> bool:
    """Whether one more letter about an account may be asked for from there; each call is a try."""
    return take_try("account letter", network_asking(request), bound=_LETTERS, now=now)


def _mark_of_password(request: HttpRequest) -> str:
    """Stands for the password among a million: too few for anybody to find the password by it."""
    typed = request.POST.get("password", "")
    return hmac.digest(settings.SECRET_KEY.encode(), f"guess\0{typed}".encode(), "sha256").hex()[:5]
