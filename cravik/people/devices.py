"""The browser with which somebody signed in before, so that others cannot lock its owner out.

Wrong passwords are counted by user and network address. Whoever shares the address with a user, behind one router or
proxy, could so lock them out. A browser that the user signed in with therefore has a count of its own.
"""

from __future__ import annotations

import hmac
import secrets
from datetime import timedelta
from ipaddress import IPv6Address

from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse

from cravik.people.models import User

COOKIE = "cravik_device"
KEPT_FOR = timedelta(days=365)
_SALT = "cravik.people.devices"
_LOCAL = 0xFD << 120  # unique local addresses, which no client on the network has: RFC 4193, 3.1


def remember_device(response: HttpResponse, user: User) -> None:
    """Let the browser be known as one of the user's."""
    response.set_cookie(
        COOKIE,
        signing.dumps([user.pk, secrets.token_hex(8)], salt=_SALT),
        max_age=KEPT_FOR,
        httponly=True,
        secure=settings.SESSION_COOKIE_SECURE,
        samesite="Lax",
    )


def counted_address(request: HttpRequest) -> str | None:
    """Under which address a try to sign in is counted: the network's, or one made up for the user's own browser."""
    device = _device_of(request, str(request.POST.get("username", "")))
    if device is None:
        return request.META.get("REMOTE_ADDR")
    mark = hmac.digest(settings.SECRET_KEY.encode(), device.encode(), "sha256")
    return str(IPv6Address(_LOCAL | int.from_bytes(mark[:15], "big")))


def is_known_device(request: HttpRequest) -> bool:
    """Whether whoever is typed as signing in did so with this browser before."""
    return _device_of(request, str(request.POST.get("username", ""))) is not None


def _device_of(request: HttpRequest, email: str) -> str | None:
    """The browser's own mark, where the user of that address signed in with it before."""
    try:
        user_id, device = signing.loads(request.COOKIES.get(COOKIE, ""), salt=_SALT, max_age=KEPT_FOR)
    except signing.BadSignature:
        return None
    is_theirs = User.objects.filter(id=user_id, email=email.strip().lower()).exists()
    return f"{user_id}-{device}" if is_theirs else None
